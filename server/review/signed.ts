import { and, asc, desc, eq, isNotNull } from "drizzle-orm";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { decision, kind, person, piece, round, version } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

/**
 * A text as it was signed, with its signatures, those withdrawn among them; null where the viewer sees no
 * such piece, or nobody signed it.
 *
 * @param number the round's; null for the last in which somebody signed
 */
export async function signedPage(db: Queryable, viewer: Viewer, slug: string, number: number | null) {
  const [signed] = await db
    .select({
      pieceId: piece.id,
      roundId: round.id,
      number: round.number,
      title: piece.title,
      slug: piece.slug,
      fields: kind.fields,
      version,
    })
    .from(decision)
    .innerJoin(round, eq(round.id, decision.roundId))
    .innerJoin(piece, eq(piece.id, round.pieceId))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(version, eq(version.id, decision.versionId))
    .where(
      and(
        visible(viewer),
        eq(piece.slug, slug),
        isNotNull(decision.signature),
        number === null ? undefined : eq(round.number, number),
      ),
    )
    .orderBy(desc(round.number), desc(decision.at))
    .limit(1);
  if (!signed) return null;
  const signatures = await db
    .select({
      id: decision.id,
      name: person.name,
      signature: decision.signature,
      hash: decision.signedHash,
      at: decision.at,
      withdrawnAt: decision.withdrawnAt,
    })
    .from(decision)
    .innerJoin(person, eq(person.id, decision.personId))
    .where(and(eq(decision.roundId, signed.roundId), isNotNull(decision.signature)))
    .orderBy(asc(decision.at), asc(decision.id));
  const { number: of, hash, content } = signed.version;
  return {
    pieceId: signed.pieceId,
    title: signed.title,
    slug: signed.slug,
    round: signed.number,
    fields: signed.fields,
    version: { number: of, hash, content },
    signatures,
  };
}

export type SignedPage = NonNullable<Awaited<ReturnType<typeof signedPage>>>;
