import { z } from "zod";
import { usualSchema } from "#core/release/channel-format.ts";
import { editionPlanSchema } from "#core/release/edition.ts";
import { lookoutSchema } from "#core/release/findings.ts";
import { readWindowsForm } from "#core/release/window-form.ts";
import { WEEKDAYS } from "#core/time/calendar.ts";
import { linesOf } from "#core/time/hours.ts";
import { freeKey } from "#core/words/keys.ts";
import { channelInput } from "#server/release/channel-changes.ts";

const hours = z.string().max(200).default("");
const few = z.string().max(60).default("");
const number = z
  .string()
  .max(9)
  .default("")
  .transform((text) => (text.trim() === "" ? null : Number(text)));
const rows = z.array(z.string().max(60)).max(50).default([]);

const texts = z.object({
  key: z.string().max(20).default(""),
  name: channelInput.shape.name,
  revision: z.coerce.number().int(),
  people: channelInput.shape.people,
  mon: hours,
  tue: hours,
  wed: hours,
  thu: hours,
  fri: hours,
  sat: hours,
  sun: hours,
  closed: z.string().max(20_000).default(""),
  blackouts: z.string().max(20_000).default(""),
  spacing: z.string().max(6).default(""),
  perDay: number,
  apart: number,
  subject: few,
  rhythmOf: rows,
  rhythmDays: rows,
  gathers: z.enum(["", "editions"]).default(""),
  called: few,
  every: z.enum(["", "week", "month"]).default(""),
  days: z.array(z.enum(WEEKDAYS)).max(7).default([]),
  day: number,
  at: few,
  weeks: number,
  since: few,
  /** A part's name a line. */
  parts: z.string().max(1_000).default(""),
  /** The parts there are, as `key name`, so that one that is only moved stays what it is. */
  partsKnown: z.array(z.string().max(130)).max(20).default([]),
  closesBefore: number,
  closesUnit: z.enum(["wh", "wd", "h", "d"]).default("wh"),
  target: number,
  targetUnit: z.enum(["words", "items"]).default("words"),
  usualAt: z
    .string()
    .trim()
    .max(5)
    .default("")
    .transform((text) => text || null),
  usualDays: number,
  takesOf: rows,
  takesIn: rows,
  takesPart: rows,
  nextNumber: number,
});
type Sent = z.output<typeof texts>;

/** What is said at a field of the form when the core refuses what it amounts to. */
const SAID: Record<string, [field: string, message: string]> = {
  called: ["called", "What is an edition called?"],
  day: ["day", "A day of the month, from 1 to 31."],
  days: ["days", "Choose a day."],
  at: ["at", "Write a time such as 07:00."],
  apart: ["weeks", "From 1 to 12."],
  since: ["since", "Choose a day."],
  parts: ["parts", "One to twelve parts, of up to 60 characters each."],
  closes: ["closesBefore", "Write a whole number, of hours with up to four decimals."],
  target: ["target", "Write a whole number, one at least."],
};

/** A channel as its form writes it, in a zone: what of it is not understood is said at its field. */
export const channelForm = (zone: string) =>
  texts.transform((sent, issue) => {
    const { mon, tue, wed, thu, fri, sat, sun, closed, blackouts, spacing } = sent;
    const week = { mon, tue, wed, thu, fri, sat, sun };
    const read = readWindowsForm({ week, closed, blackouts, spacing }, zone);
    if ("field" in read) issue.addIssue({ code: "custom", path: [read.field], message: read.message });
    const lookout = lookoutSchema.safeParse(lookoutOf(sent));
    for (const { path } of lookout.error?.issues ?? [])
      issue.addIssue({ code: "custom", path: [String(path[0])], message: "Write a whole number, one at least." });
    const usual = usualSchema.safeParse({ at: sent.usualAt, days: sent.usualDays });
    for (const { path } of usual.error?.issues ?? [])
      issue.addIssue(
        path[0] === "at"
          ? { code: "custom", path: ["usualAt"], message: "Write a time such as 07:00." }
          : { code: "custom", path: ["usualDays"], message: "A whole number of days, from 1 to 3650." },
      );
    const editions = editionPlanSchema.nullable().safeParse(editionsOf(sent));
    for (const { path, message } of editions.error?.issues ?? []) {
      const [field, said] = SAID[path.findLast((step) => Object.hasOwn(SAID, step as string)) as string] ?? [];
      issue.addIssue({ code: "custom", path: [field ?? "gathers"], message: said ?? message });
    }
    if ("field" in read || !lookout.success || !usual.success || !editions.success) return z.NEVER;
    const { key, name, revision, people, nextNumber } = sent;
    return {
      key,
      name,
      revision,
      people,
      windows: read.windows,
      lookout: lookout.data,
      editions: editions.data,
      usual: usual.data,
      nextNumber: nextNumber ?? 1,
    };
  });

const lookoutOf = ({ perDay, apart, subject, rhythmOf, rhythmDays }: Sent) => ({
  perDay,
  apart,
  subject: subject || null,
  rhythms: rhythmOf.flatMap((of, i) => {
    const [what = "", id = ""] = of.split(" ");
    return what === "" ? [] : [{ of: what, id, days: Number(rhythmDays[i]) }];
  }),
});

/** How a channel gathers its editions, as its form says; null where it gathers none. */
function editionsOf(sent: Sent): unknown {
  if (sent.gathers === "") return null;
  const parts = partsOf(sent);
  return {
    called: sent.called,
    rhythm: rhythmOf(sent),
    parts,
    closes: sent.closesBefore === null ? null : `${sent.closesBefore}${sent.closesUnit}`,
    target: sent.target === null ? null : { unit: sent.targetUnit, number: sent.target },
    takes: sent.takesOf.flatMap((kind, i) => {
      const section = sent.takesIn[i] ?? "";
      const part = parts.find((one) => one.name === sent.takesPart[i]) ?? parts[0];
      if (!part || (kind === "" && section === "")) return [];
      return [{ kind: kind || null, section: section || null, part: part.key }];
    }),
  };
}

function rhythmOf({ every, days, day, at, weeks, since }: Sent): unknown {
  if (every === "") return null;
  const apart = weeks ?? 1;
  return every === "week" ? { every, days, at, apart, since } : { every, day, at, apart, since };
}

/** The parts with their keys: one that keeps its name keeps its key, and so does one renamed where it stands. */
function partsOf({ parts, partsKnown }: Sent): { key: string; name: string }[] {
  const known = partsKnown.map((one) => ({ key: one.split(" ", 1)[0] ?? "", name: one.slice(one.indexOf(" ") + 1) }));
  const names = linesOf(parts);
  const made: { key: string; name: string }[] = [];
  for (const [i, name] of names.entries()) {
    const same = known.find((one) => one.name === name);
    const here = names.length === known.length ? known[i] : undefined;
    const renamed = here && !names.includes(here.name) ? here : undefined;
    made.push({ name, key: (same ?? renamed)?.key ?? freeKey(name, [...known, ...made], "part") });
  }
  return made;
}
