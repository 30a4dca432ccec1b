import { and, eq, isNull } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { ruleTold } from "#core/events/rules.ts";
import { peopleMeant } from "#core/people/principals.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Action, Rule } from "#core/rules/document.ts";
import type { Content, Value } from "#core/text/fields.ts";
import { due } from "#core/time/due.ts";
import { loadHolders } from "../access/holders.ts";
import { notGranted } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { piece, textHolder } from "../db/schema/index.ts";
import { sendPiece } from "../passage/commands.ts";
import { everybody } from "../passage/relief.ts";
import { addSeat, changeDue } from "../passage/routing.ts";
import { loadPiece, type Piece } from "../piece/facts.ts";
import { hold } from "../piece/holder.ts";
import { NOT_FOUND, openBare } from "../piece/open.ts";
import { remark } from "../remarks/commands.ts";
import { mentionable } from "../remarks/mentions.ts";
import { loadOpenRound } from "../review/rounds.ts";
import { assignTo } from "../review/seats.ts";
import { loadPlaces } from "../sections/places.ts";
import { keepText } from "../text/commands.ts";
import { openText } from "../text/open.ts";
import { type Act, write } from "../write.ts";
import { layCall } from "./calls.ts";

/** What a rule is at when it does something: in whose name, to which piece. */
interface At {
  act: Act;
  rule: Pick<Rule, "key" | "name" | "when"> & { id: string };
  pieceId: string;
}

/** Does one thing a rule says, by the very command a person would use: with its checks, and its refusals. */
export async function carryOut(at: At, action: Action): Promise<Result<unknown>> {
  const { act, rule, pieceId } = at;
  const [row] = await act.db
    .select()
    .from(piece)
    .where(and(eq(piece.id, pieceId), isNull(piece.deletedAt)));
  if (!row) return refuse(NOT_FOUND);
  const on = { pieceId, revision: row.revision };
  switch (action.do) {
    case "due": {
      const { calendar } = await loadPlaces(act.db);
      return changeDue(act, { ...on, dueAt: due(calendar, act.now, action.in), note: `By the rule “${rule.name}”.` });
    }
    case "comment":
      return remark(act, { pieceId, body: action.text });
    case "take": {
      const publishAt = row.publishAt !== null && row.publishAt > act.now ? row.publishAt : null;
      const note = `By the rule “${rule.name}”.`;
      return sendPiece(act, {
        ...on,
        transition: action.transition,
        note,
        publishAt,
        urgency: row.urgency,
        dueAt: null,
      });
    }
    case "set":
      return setField(at, action.field, action.to);
    case "notify":
      return tell(at, action.to, action.text);
    case "assign":
      return give(at, action.to);
    case "call":
      return layCall(act, rule, pieceId, action.url);
  }
}

/** Who is meant, of those who may see the piece. */
async function meant(at: { tx: Queryable; now: number }, facts: Piece, to: readonly string[]): Promise<string[]> {
  const people = await everybody(at, facts, await loadPlaces(at.tx));
  const round = await loadOpenRound(at.tx, facts.piece.id);
  const seated = round?.seats.filter((one) => one.status === "open").map((one) => one.personId) ?? [];
  const assigneeIds = [...(facts.target.piece?.assigneeIds ?? []), ...seated];
  const ids = peopleMeant(to, { authorId: facts.piece.authorId, assigneeIds, people });
  const holders = await loadHolders(at.tx, ids);
  return mentionable(holders.values(), facts, at.now).map((one) => one.id);
}

const NOBODY = { code: "nobody", sentence: "Nobody who may see it is meant by that." };

function tell({ act, rule, pieceId }: At, to: readonly string[], text: string): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openBare(change, pieceId);
    if (!opened.ok) return opened;
    const told = await meant(change, opened.value.facts, to);
    if (told.length === 0) return refuse(NOBODY);
    const { title } = opened.value.facts.piece;
    const said = text.replaceAll(/\{\{\s*piece\.title\s*\}\}/g, title);
    change.happened(ruleTold, { name: rule.name, text: said }, { pieceId, tell: { told } });
    return accept(null);
  });
}

/** Gives a piece to whom is meant: in a review as a seat, elsewhere as theirs. Who has it already keeps it. */
async function give({ act, pieceId }: At, to: string): Promise<Result<unknown>> {
  const facts = await loadPiece(act.db, await loadPlaces(act.db), eq(piece.id, pieceId));
  if (!facts) return refuse(NOT_FOUND);
  const ids = await meant({ tx: act.db, now: act.now }, facts, [to]);
  if (ids.length === 0) return refuse(NOBODY);
  if (facts.state.kind !== "review") return assign({ act, pieceId }, ids);
  let revision = facts.piece.revision;
  for (const personId of ids) {
    const done = await addSeat({ ...act, formKey: undefined }, { pieceId, revision, personId, note: "" });
    if (!done.ok && done.refusal.code !== "seated") return done;
    if (done.ok) revision += 1;
  }
  return accept(null);
}

const assign = ({ act, pieceId }: Pick<At, "act" | "pieceId">, ids: readonly string[]): Promise<Result<null>> =>
  write(act, async (change) => {
    const opened = await openBare(change, pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    if (!can(actor, "piece.route", facts.target, change.now).allowed)
      return notGranted(
        change.tx,
        "piece.route",
        facts.target,
        change.now,
        "No role of yours lets you pass pieces on here.",
      );
    const people = await everybody(change, facts, places);
    for (const personId of ids.filter((id) => !facts.target.piece?.assigneeIds.includes(id)))
      await assignTo(change, facts, personId, { personId, forPersonId: null }, people);
    return accept(null);
  });

/** Sets a field as somebody writing would; where somebody writes in the text just now, it stays as it is. */
function setField({ act, pieceId }: At, key: string, value: string | number): Promise<Result<unknown>> {
  return write<unknown>(act, async (change) => {
    const opened = await openText(change, pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const field = facts.kind.fields.find((one) => one.key === key);
    if (!field) return refuse({ code: "no-field", sentence: `A ${facts.kind.name} has no such field.` });
    const window = newId();
    const held = await hold(change, facts, { personId: actor.id, window }, places.calendar.timeZone);
    if (held) return refuse(held);
    const { content } = facts.version;
    const { [key]: _, ...rest } = content.fields;
    const next: Value | undefined = value === "" ? undefined : field.type === "number" ? Number(value) : String(value);
    const fields: Content["fields"] = next === undefined ? rest : { ...rest, [key]: next };
    const kept = await keepText(change, opened.value, { ...content, fields }, undefined);
    await change.tx.delete(textHolder).where(and(eq(textHolder.pieceId, pieceId), eq(textHolder.window, window)));
    return kept;
  });
}
