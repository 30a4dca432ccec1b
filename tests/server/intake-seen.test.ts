import { and, eq } from "drizzle-orm";
import fc from "fast-check";
import { newId } from "#server/db/schema/columns.ts";
import { intakeItem } from "#server/db/schema/index.ts";
import { hasIntake, itemsSeen, judges } from "#server/intake/items.ts";
import { MORNING, makeWorld, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const PEOPLE = ["ilda", "sefa", "dario", "tobia", "noor", "wim", "petra", "kai"] as const;
const SECTIONS = ["routes", "winter", "bulletin", "magazine", "safety", null] as const;
const KINDS = ["bulletin-item", "route-guide", null] as const;
const SORTS = ["request", "idea", "report", "material"] as const;
const STANDINGS = ["waiting", "asked", "declined", "unconfirmed"] as const;

test("law: who judges something sees it, and who sees it judges it, brought it, or works here and it is an idea", async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.record({
        section: fc.constantFrom(...SECTIONS),
        kind: fc.constantFrom(...KINDS),
        sort: fc.constantFrom(...SORTS),
        standing: fc.constantFrom(...STANDINGS),
        holder: fc.option(fc.constantFrom(...PEOPLE)),
        by: fc.option(fc.constantFrom(...PEOPLE)),
      }),
      async ({ section, kind, sort, standing, holder, by }) => {
        const id = newId();
        const row = {
          sectionId: section && world.id(`section ${section}`),
          kindId: kind && world.id(`kind ${kind}`),
          holderId: holder && world.id(holder),
          byId: by && world.id(by),
        };
        await world.db.insert(intakeItem).values({ id, sort, standing, title: "T", words: "", at: MORNING, ...row });
        for (const who of PEOPLE) {
          const viewer = await world.viewer(who);
          const found = await world.db
            .select({ id: intakeItem.id })
            .from(intakeItem)
            .where(and(eq(intakeItem.id, id), itemsSeen(viewer)));
          const ideas = sort === "idea" && hasIntake(viewer, viewer.now);
          const may = judges(viewer, row, viewer.places, viewer.now) || row.byId === viewer.id || ideas;
          expect([who, found.length > 0]).toEqual([who, standing !== "unconfirmed" && may]);
        }
      },
    ),
    { numRuns: 40 },
  );
});
