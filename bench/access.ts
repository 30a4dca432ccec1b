import { createMongoAbility, subject } from "@casl/ability";
import { and, eq, inArray, sql } from "drizzle-orm";
import { can, type Grant, type Holder, inForce, type Target } from "#core/access/decide.ts";
import { type Held, OWN_PERMISSIONS, PERMISSIONS, type Permission } from "#core/access/permissions.ts";
import { chance, pick } from "#demo/texts.ts";
import { visible } from "#server/access/visible.ts";
import type { Database } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import { accessGrant, person, piece, role, section } from "#server/db/schema/index.ts";
import { listPieces } from "#server/pieces/lists.ts";
import type { Viewer } from "#server/viewer.ts";
import { medianTimes, percentile, perSecond, type Row } from "./measure.ts";

const ROLES = 200;
const GRANTS = 50;
const ASKED = 2_000;
const ALL_PIECES = 100_000;
const SPAN = 300;
const TURNS = 9;
const RUNS = 30;
const NOW = 1_000_000;

/** Decisions a second beside a library's on the same rules, with the same answers. */
export function deciding(): Row {
  const random = chance(7);
  const { holder, targets, permissions } = world(random);
  const ability = createMongoAbility(
    holder.grants.filter((grant) => inForce(grant, NOW)).flatMap((grant) => rulesOf(grant, holder.id)),
  );
  const questions = Array.from({ length: ASKED }, () => ({
    permission: pick(permissions, random),
    ...pick(targets, random),
  }));
  const ours = (i: number) => {
    const asked = questions[i % ASKED] as (typeof questions)[number];
    return can(holder, asked.permission, asked.target, NOW).allowed;
  };
  const theirs = (i: number) => {
    const asked = questions[i % ASKED] as (typeof questions)[number];
    return ability.can(asked.permission, asked.subject);
  };
  const differ = questions.findIndex((_, i) => ours(i) !== theirs(i));
  if (differ >= 0) throw new Error(`the two decide differently on ${JSON.stringify(questions[differ])}`);
  const yes = questions.filter((_, i) => ours(i)).length;
  // In turns, so that both meet the same machine; the first turn warms up.
  const turns = Array.from(
    { length: TURNS + 1 },
    () => [perSecond(ours, SPAN), perSecond(theirs, SPAN)] as const,
  ).slice(1);
  const [own, library] = [0, 1].map((which) =>
    percentile(
      turns.map((turn) => turn[which] as number),
      0.5,
    ),
  ) as [number, number];
  return {
    what: `decisions with their reasons, ${GRANTS} grants out of ${ROLES} roles, ${Math.round((yes * 100) / ASKED)} % yes`,
    measured: `${Math.round(own / 1000)} k/s`,
    beside: `${Math.round(library / 1000)} k/s by a library, without reasons`,
    ratio: own / library,
    aim: "≥ 1",
  };
}

function world(random: () => number) {
  const permissions = Object.keys(PERMISSIONS) as Permission[];
  const ids = (what: string, many: number) => Array.from({ length: many }, (_, i) => `${what}-${i}`);
  const [sections, kinds, pieces] = [ids("section", 60), ids("kind", 8), ids("piece", 500)];
  const roles = ids("role", ROLES).map((key) => ({
    key,
    held: permissions
      .filter(() => random() < 0.35)
      .map(
        (one): Held =>
          ((OWN_PERMISSIONS as readonly string[]).includes(one) && random() < 0.4 ? `${one}.own` : one) as Held,
      ),
  }));
  const grants = Array.from({ length: GRANTS }, (_, i): Grant => {
    const { key, held } = pick(roles, random);
    const scope = pick(
      [
        { kind: "section", id: pick(sections, random) },
        { kind: "section", id: pick(sections, random) },
        { kind: "kind", id: pick(kinds, random) },
        { kind: "piece", id: pick(pieces, random) },
        { kind: "piece", id: pick(pieces, random) },
      ] as const,
      random,
    );
    const windowed = random() < 0.1;
    return {
      id: `grant-${i}`,
      group: null,
      roleKey: key,
      roleName: key,
      permissions: held,
      scope,
      from: null,
      until: random() < 0.2 ? NOW : null,
      publishFrom: windowed ? 100 : null,
      publishUntil: windowed ? 200 : null,
    };
  });
  const holder: Holder = { id: "me", key: "me", active: true, grants };
  const targets = pieces.map((id) => {
    const sectionIds = [pick(sections, random), pick(sections, random)];
    const kindId = pick(kinds, random);
    const authorId = random() < 0.2 ? "me" : "another";
    const publishAt = random() < 0.5 ? Math.floor(random() * 300) : null;
    const people = { assigneeIds: [], seatedIds: [], viewers: ["anyone" as const], editors: ["anyone" as const] };
    const target: Target = { sectionIds, kindId, piece: { id, authorId, private: false, publishAt, ...people } };
    return { target, subject: subject("piece", { id, sectionIds, kindId, authorId, publishAt }) };
  });
  return { holder, targets, permissions };
}

/** A grant as the library's rules: the same permissions, scope, window of dates and own-only. */
function rulesOf({ permissions, scope, publishFrom, publishUntil }: Grant, me: string) {
  const place =
    scope.kind === "section"
      ? { sectionIds: scope.id }
      : scope.kind === "kind"
        ? { kindId: scope.id }
        : scope.kind === "piece"
          ? { id: scope.id }
          : {};
  const window = publishFrom === null ? {} : { publishAt: { $gte: publishFrom, $lt: publishUntil } };
  const own = { subject: "piece", conditions: { authorId: me } };
  return [
    // Authors read their own, as in the core.
    { action: "piece.read", ...own },
    ...permissions.map((held) => {
      const [action, mine] = held.endsWith(".own") ? [held.slice(0, -".own".length), { authorId: me }] : [held, {}];
      return { action, subject: "piece", conditions: { ...place, ...window, ...mine } };
    }),
  ];
}

/** The first page of pieces for somebody with scattered grants, beside the same page for who sees everything. */
export async function listing(db: Database, everything: Viewer, scattered: () => Promise<Viewer>): Promise<Row[]> {
  await layOut(db);
  const some = await scattered();
  const [seen] = await db.select({ pieces: sql<number>`COUNT(*)` }).from(piece).where(visible(some));
  const rows: Row[] = [];
  for (const [name, filter] of [
    ["in flight", {}],
    ["all", { show: "all" }],
  ] as const) {
    const [narrow, wide] = (await medianTimes(
      [() => listPieces(db, some, filter), () => listPieces(db, everything, filter)],
      RUNS,
    )) as [number, number];
    rows.push({
      what: `pieces, ${name}: ${some.grants.length} grants, ${Number(seen?.pieces).toLocaleString("en")} of ${ALL_PIECES.toLocaleString("en")} visible`,
      measured: `${narrow.toFixed(1)} ms`,
      beside: `${wide.toFixed(1)} ms for who sees everything`,
      ratio: narrow / wide,
      aim: "≤ 2",
    });
  }
  return rows;
}

/** Two hundred sections, the pieces spread over them and made many, and fifty grants of one reader. */
async function layOut(db: Database): Promise<void> {
  const random = chance(11);
  const [top] = await db.select().from(section).where(eq(section.key, "routes"));
  const sections = Array.from({ length: 200 }, (_, i) => ({
    id: newId(),
    key: `part-${i}`,
    name: `Part ${i}`,
    parentId: top?.id,
    position: i,
  }));
  await db.insert(section).values(sections);
  const [columns] = await db.execute(sql`SHOW COLUMNS FROM piece WHERE Extra NOT LIKE '%GENERATED%'`);
  const names = (columns as unknown as { Field: string }[]).map((one) => one.Field);
  const [{ here } = { here: 0 }] = (await db.select({ here: sql<number>`COUNT(*)` }).from(piece)) as { here: number }[];
  for (let copy = 1; copy * Number(here) < ALL_PIECES; copy++) {
    const values = names.map((name) =>
      name === "id" ? "UUID()" : name === "slug" ? `CONCAT(slug, '-c${copy}')` : name,
    );
    await db.execute(
      sql.raw(
        `INSERT INTO piece (${names.join(", ")}) SELECT ${values.join(", ")} FROM piece WHERE slug NOT LIKE '%-c%'`,
      ),
    );
  }
  const list = sections.map((one) => `'${one.id}'`).join(", ");
  await db.execute(sql.raw(`UPDATE piece SET section_id = ELT(1 + CRC32(id) MOD 200, ${list}), publish_at = since`));
  const [writer] = await db.select().from(role).where(eq(role.key, "picture-desk"));
  const some = await db.select({ id: piece.id }).from(piece).limit(2_000);
  const [reader] = await db.select({ id: person.id }).from(person).where(eq(person.key, "gus"));
  const held = { personId: reader?.id ?? "", roleId: writer?.id ?? "" };
  await db
    .delete(accessGrant)
    .where(and(eq(accessGrant.personId, held.personId), inArray(accessGrant.scope, ["publication", "section"])));
  const now = Date.now();
  await db.insert(accessGrant).values(
    Array.from({ length: GRANTS }, (_, i) => {
      const at = pick(sections, random).id;
      if (i < 25) return { id: newId(), ...held, scope: "section" as const, scopeId: at };
      if (i < 40) return { id: newId(), ...held, scope: "piece" as const, scopeId: pick(some, random).id };
      return {
        id: newId(),
        ...held,
        scope: "section" as const,
        scopeId: at,
        publishFrom: now - i * 86_400_000,
        publishUntil: now,
      };
    }),
  );
  await db.execute(sql`ANALYZE TABLE piece`);
}
