import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { isDeepStrictEqual } from "node:util";
import { eq } from "drizzle-orm";
import ts from "typescript";
import { newId } from "#server/db/schema/columns.ts";
import { accessGrant, ledgerTail, person, role, signInFailure } from "#server/db/schema/index.ts";
import { inviteGuest } from "#server/guests/commands.ts";
import { guestOf } from "#server/guests/queries.ts";
import { loadHouse } from "#server/house.ts";
import type { Act } from "#server/write.ts";
import { accepted, begin, bindReview, codeOf, DAY, MORNING, makeWorld, type World } from "../support/world.ts";
import { COMMANDS, EVERYBODY, NO_COMMANDS, type Who } from "./who-may.ts";

/** The codes of refusals that say: not you. */
const TURNED_AWAY = ["not-granted", "not-found", "not-yours", "not-editor", "no-seat", "not-a-signer", "ended"];

let world: World;
let former: Record<"ended" | "expired", string>;
let elsewhere: string;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
  former = { ended: await formerChief("ended", { active: false }), expired: await formerChief("expired", {}) };
  elsewhere = (await begin(world, "Elsewhere")).id;
});
afterAll(() => world.close());

/** Somebody who was a managing editor: still with the grant and ended, or at work with the grant over. */
async function formerChief(key: string, more: { active?: boolean }): Promise<string> {
  const [chief] = await world.db.select().from(role).where(eq(role.key, "chief"));
  const id = newId();
  await world.db.insert(person).values({ id, key, name: key, email: `${key}@x.example`, ...more });
  const until = key === "expired" ? MORNING : null;
  await world.db
    .insert(accessGrant)
    .values({ id: newId(), personId: id, roleId: chief?.id ?? "", scope: "publication", until });
  return id;
}

async function actAs(who: Who, pieceId: string | undefined): Promise<Act> {
  const act = world.act(null);
  if (who === "nobody") return act;
  if (who === "ended" || who === "expired") return { ...act, personId: former[who] };
  if (who !== "guest") return world.act(who);
  // One person stands here for many: they are not stopped for inviting so often.
  await world.db.delete(signInFailure);
  const invite = { pieceId: pieceId ?? elsewhere, label: "Guest", until: MORNING + DAY, decides: false };
  const { link } = accepted(await inviteGuest(world.act("ilda"), invite));
  const guest = await guestOf(world.db, link.split("/guest/")[1] ?? "", MORNING);
  return { ...act, personId: guest?.guestId ?? "" };
}

/** The exported functions of the server whose first parameter is an act. */
function commandsInCode(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const file = path.join(folder, entry.name);
    if (entry.isDirectory()) return commandsInCode(file);
    if (!file.endsWith(".ts") || file.endsWith(".test.ts")) return [];
    const source = ts.createSourceFile(file, readFileSync(file, "utf8"), ts.ScriptTarget.Latest, true);
    return source.statements.flatMap((statement) => {
      const modifiers = ts.canHaveModifiers(statement) ? (ts.getModifiers(statement) ?? []) : [];
      if (!modifiers.some((one) => one.kind === ts.SyntaxKind.ExportKeyword)) return [];
      if (ts.isFunctionDeclaration(statement)) return takesAct(statement) ? [statement.name?.text ?? ""] : [];
      if (!ts.isVariableStatement(statement)) return [];
      return statement.declarationList.declarations.flatMap(({ name, initializer }) =>
        initializer && ts.isArrowFunction(initializer) && takesAct(initializer) ? [name.getText()] : [],
      );
    });
  });
}

const takesAct = (made: ts.SignatureDeclaration) => made.parameters[0]?.type?.getText() === "Act";

test("every command in the code is in the table, or it is said why it need not be", () => {
  const known = [...Object.keys(COMMANDS), ...Object.keys(NO_COMMANDS)].sort();
  expect([...new Set(commandsInCode("server"))].sort()).toEqual(known);
});

/** The house as a node keeps it, and where the ledger ends. */
async function standing() {
  const [tail] = await world.db.select({ end: ledgerTail.seq }).from(ledgerTail);
  return { end: tail?.end ?? 0, house: await loadHouse(world.db) };
}

/** A node keeps the house while the ledger has not grown: whatever changes the one must make the other grow. */
async function expectOnRecord(before: Awaited<ReturnType<typeof standing>>): Promise<void> {
  const after = await standing();
  if (!isDeepStrictEqual(after.house, before.house)) expect(after.end).toBeGreaterThan(before.end);
}

test.each(Object.entries(COMMANDS))(
  "%s lets through whom the table names, and nobody else",
  async (_, { may, set }) => {
    const through: Who[] = [];
    let done = false;
    let laid = await set(world);
    for (const who of EVERYBODY) {
      const act = await actAs(who, laid.pieceId);
      const before = done ? null : await standing();
      const code = codeOf(await laid.run(act));
      if (!TURNED_AWAY.includes(code)) through.push(who);
      if (code !== "accepted") continue;
      if (before) await expectOnRecord(before);
      done = true;
      laid = await set(world);
    }
    expect(through).toEqual(EVERYBODY.filter((who) => may.includes(who)));
    expect(done).toBe(true);
  },
);
