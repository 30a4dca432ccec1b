import { and, asc, eq, inArray } from "drizzle-orm";
import { NOTHING_LOOKED_FOR } from "#core/release/findings.ts";
import { alwaysOpen } from "#core/release/window.ts";
import { calendar } from "#demo/setting.ts";
import { edition, piece } from "#server/db/schema/index.ts";
import { fillEdition, makeEdition } from "#server/editions/commands.ts";
import { leaveEdition } from "#server/editions/leaving.ts";
import { signEdition } from "#server/editions/signing.ts";
import { saveChannel } from "#server/release/channel-changes.ts";
import type { Act } from "#server/write.ts";
import type { Row } from "./measure.ts";
import { actAs, db, now } from "./setting.ts";

const [PIECES, AT_ONCE] = [300, 50];

/** An edition of 300 pieces that leaves, beside as many single rows updated and committed one after another. */
export async function leaving(ilda: Act): Promise<Row> {
  const made = await saveChannel(ilda, {
    key: "",
    name: "Bench bulletin",
    windows: alwaysOpen(calendar.timeZone),
    lookout: NOTHING_LOOKED_FOR,
    editions: {
      called: "Bench",
      rhythm: null,
      parts: [{ key: "all", name: "All" }],
      closes: null,
      target: null,
      takes: [],
    },
    revision: 0,
  });
  const key = value(made).key;
  const { number } = value(await makeEdition(ilda, { channel: key, at: now + 60_000 }));
  const found = async () => {
    const [row] = await db
      .select()
      .from(edition)
      .where(and(eq(edition.channel, key), eq(edition.number, number)));
    if (!row) throw new Error("the edition is gone");
    return row;
  };
  const ready = await db
    .select({ id: piece.id })
    .from(piece)
    .where(eq(piece.stateKey, "ready"))
    .orderBy(asc(piece.id))
    .limit(PIECES);
  const ids = ready.map((one) => one.id);
  const { id: editionId } = await found();
  for (let i = 0; i < ids.length; i += AT_ONCE)
    value(await fillEdition(ilda, { editionId, pieces: ids.slice(i, i + AT_ONCE) }));
  value(await signEdition(ilda, { editionId, revision: (await found()).revision }));
  const time = async (work: () => Promise<unknown>) => {
    const begun = performance.now();
    await work();
    return performance.now() - begun;
  };
  let became = "";
  const out = await time(async () => {
    became = value(await leaveEdition({ ...actAs(null), now: now + 120_000 }, editionId));
  });
  if (became !== "released") throw new Error(`the edition was ${became}: ${JSON.stringify((await found()).holds)}`);
  const left = await db
    .select({ id: piece.id })
    .from(piece)
    .where(and(inArray(piece.id, ids), eq(piece.stateKind, "live")));
  if (left.length !== PIECES) throw new Error(`${left.length} of ${PIECES} are out`);
  const bare = await time(async () => {
    for (const id of ids) await db.update(piece).set({ publishAt: now }).where(eq(piece.id, id));
  });
  return {
    what: `${PIECES} pieces out with one edition`,
    measured: `${(out / 1000).toFixed(2)} s`,
    beside: `${(bare / 1000).toFixed(2)} s for as many bare committed updates`,
    ratio: out / bare,
    aim: "≤ 3 s",
  };
}

function value<T>(result: { ok: true; value: T } | { ok: false; refusal: { sentence: string } }): T {
  if (!result.ok) throw new Error(result.refusal.sentence);
  return result.value;
}
