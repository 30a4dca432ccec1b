import { z } from "zod";
import type { Topic } from "../telling/choices.ts";
import { FIELDS, type Field } from "../telling/wording.ts";
import { CATALOGUE } from "./catalogue.ts";
import type { EventKind, Occasion } from "./event.ts";
import { topicOf } from "./topic.ts";

/** What an event calls the stop and the date it is about, the first it has. */
const [STOPS, DATES] = [
  ["name", "state"],
  ["dueAt", "at", "until"],
] as const;

const partsOf = ({ payload }: EventKind<unknown>): readonly string[] =>
  payload instanceof z.ZodObject ? Object.keys(payload.shape) : [];

/** The fields the words of a notice may be made of; none where there is no such notice. */
export function wordedFields(event: string, part: string): Field[] {
  const kind = CATALOGUE.get(event);
  const telling = kind?.tells[part];
  if (!kind || !telling) return [];
  const has = partsOf(kind);
  const ofPiece = kind.leads === "piece" || kind.leads === "remark";
  const absent: Partial<Record<Field, boolean>> = {
    piece: !ofPiece,
    section: !ofPiece,
    stop: !STOPS.some((one) => has.includes(one)),
    date: !DATES.some((one) => has.includes(one)),
    note: !telling.note,
    more: !telling.lines,
  };
  return (Object.keys(FIELDS) as Field[]).filter((field) => !absent[field]);
}

/** The stop and the date an event is about; empty where it is about none. */
export function aboutOf({ payload, when }: Pick<Occasion<unknown>, "payload" | "when">): {
  stop: string;
  date: string;
} {
  const has = (payload ?? {}) as Record<string, unknown>;
  const stop = STOPS.map((one) => has[one]).find((one) => typeof one === "string");
  const date = DATES.map((one) => has[one]).find((one) => typeof one === "number");
  return { stop: typeof stop === "string" ? stop : "", date: typeof date === "number" ? when(date) : "" };
}

/** Every notice there is, by its event and which of the people concerned it tells, and the topic it is mostly of. */
export const NOTICES: readonly { event: string; part: string; topic: Topic }[] = [...CATALOGUE.values()].flatMap(
  ({ name, tells, remark }) =>
    Object.entries(tells).map(([part, telling]) => ({
      event: name,
      part,
      topic: topicOf(typeof telling.asks === "string" ? telling.asks : "look", remark),
    })),
);

/**
 * An event's payload as it might be, where none is at hand: each part says its own name, an instant is a given
 * one, a list holds one thing.
 *
 * @param at epoch milliseconds
 */
export function samplePayload(event: string, at: number): unknown {
  const kind = CATALOGUE.get(event);
  return kind ? sampleOf(z.toJSONSchema(kind.payload, { unrepresentable: "any" }) as Schema, "", at) : {};
}

/** What one person's notice may say beyond its event, where none is at hand. */
export const SAMPLE_PARAMS: Readonly<Record<string, unknown>> = {
  to: "‹to›",
  title: "‹title›",
  state: "‹state›",
  workflow: "‹workflow›",
};

interface Schema {
  type?: string | string[];
  enum?: unknown[];
  const?: unknown;
  anyOf?: Schema[];
  items?: Schema;
  properties?: Record<string, Schema>;
}

function sampleOf(schema: Schema, name: string, at: number): unknown {
  if (schema.const !== undefined) return schema.const;
  if (schema.enum) return schema.enum[0];
  if (schema.anyOf) return sampleOf(schema.anyOf.find((one) => one.type !== "null") ?? {}, name, at);
  const [type] = [schema.type ?? "object"].flat();
  if (type === "string") return `‹${name}›`;
  if (type === "number" || type === "integer") return /at$|until/i.test(name) ? at : 2;
  if (type === "boolean") return false;
  if (type === "array") return [sampleOf(schema.items ?? {}, name, at)];
  const parts = Object.entries(schema.properties ?? {});
  return Object.fromEntries(parts.map(([part, of]) => [part, sampleOf(of, part, at)]));
}
