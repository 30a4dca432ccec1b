import { eq } from "drizzle-orm";
import type { Database } from "#server/db/client.ts";
import { insertAll } from "#server/db/insert.ts";
import { newId } from "#server/db/schema/columns.ts";
import { intakeItem, kind, requestForm, section } from "#server/db/schema/index.ts";
import { intakeList } from "#server/intake/queries.ts";
import { besideRaw } from "./loads.ts";
import type { Row } from "./measure.ts";

const ITEMS = 10_000;
/** A form's page carries no more script than this, in bytes as sent. */
const SCRIPT = 40_000;

/** The first page of an intake in which 10,000 things wait, beside the very statements it sends. */
export async function listed(db: Database, personId: string, now: number): Promise<void> {
  const [where] = await db.select().from(section).where(eq(section.key, "bulletin"));
  const [what] = await db.select().from(kind).where(eq(kind.key, "bulletin-item"));
  const items = Array.from({ length: ITEMS }, (_, i) => ({
    id: newId(),
    sort: (["request", "idea", "report", "material"] as const)[i % 4] ?? "idea",
    standing: "waiting" as const,
    title: `Thing ${i} from the valley`,
    words: `Somebody says something about bridge ${i % 300} and the hut above it.`,
    sectionId: i % 4 === 1 ? null : (where?.id ?? null),
    kindId: i % 4 === 1 ? null : (what?.id ?? null),
    at: now - (ITEMS - i) * 60_000,
    dueAt: now + i * 60_000,
  }));
  await db.transaction((tx) => insertAll(tx, intakeItem, items));
  const open = { show: "open" as const, sort: null, mine: false };
  await besideRaw("the intake with 10,000 things", personId, (counted, who) =>
    intakeList(counted, who, { ...open, words: "" }),
  );
  await besideRaw("the intake, by words", personId, (counted, who) =>
    intakeList(counted, who, { ...open, words: "bridge 42" }),
  );
}

/** What script a request's form brings along, beside what it may. */
export async function formScript(db: Database, base: string): Promise<Row> {
  const [where] = await db.select().from(section).where(eq(section.key, "bulletin"));
  const [what] = await db.select().from(kind).where(eq(kind.key, "bulletin-item"));
  const row = {
    kindId: what?.id ?? "",
    sectionId: where?.id ?? "",
    fields: [],
    invited: [],
    openTo: "anybody" as const,
  };
  await db.insert(requestForm).values({ id: newId(), key: "bench", name: "Bench", about: "", ...row });
  const page = await (await fetch(`${base}/ask/bench`)).text();
  const scripts = [...page.matchAll(/<script[^>]*src="([^"]+)"/g)].map((found) => found[1] ?? "");
  const sizes = await Promise.all(
    scripts.map(async (src) => (await (await fetch(base + src)).arrayBuffer()).byteLength),
  );
  const sent = sizes.reduce((sum, one) => sum + one, 0);
  return {
    what: `scripts of a request's form, ${scripts.length} in all`,
    measured: `${(sent / 1000).toFixed(1)} KB`,
    beside: `${SCRIPT / 1000} KB`,
    ratio: sent / SCRIPT,
    aim: "≤ 1",
  };
}
