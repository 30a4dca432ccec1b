import type { Target } from "../access/decide.ts";
import { can, type Holder } from "../access/decide.ts";
import type { Refusal } from "../refusal.ts";
import type { State } from "../workflow/document.ts";

/** The assistant a publication has, and where it may be asked. */
export interface Assistant {
  name: string;
  on: boolean;
  /** The sections in which it may be asked, each with all below it; null for everywhere. */
  sectionIds: readonly string[] | null;
}

/**
 * Why somebody may not ask the assistant about a piece, nor take what it brought; null where they may. It has no part
 * in anything but writing: in a review, and after it, words are people's.
 *
 * @param now epoch milliseconds
 */
export function whyNotAsk(
  assistant: Assistant | null,
  person: Holder,
  { target, state }: { target: Target; state: State },
  now: number,
): Refusal | null {
  if (!assistant?.on) return { code: "no-assistant", sentence: "No assistant is switched on here." };
  const { name, sectionIds } = assistant;
  if (sectionIds && !target.sectionIds.some((id) => sectionIds.includes(id)))
    return { code: "not-here", sentence: `${name} is not asked in this section.` };
  if (!can(person, "assistant.ask", target, now).allowed)
    return { code: "not-granted", sentence: `No role of yours lets you ask ${name} here.` };
  if (state.kind !== "writing")
    return {
      code: "not-writing",
      sentence: `It is in ${state.name}. ${name} is asked only while a piece is being written.`,
    };
  if (!can(person, "piece.edit", target, now).allowed)
    return { code: "not-editor", sentence: `In ${state.name} the text is not yours to change.` };
  return null;
}
