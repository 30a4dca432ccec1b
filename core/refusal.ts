/** A "no" as a value: it says what blocks, who could act, and what is missing. */
export interface Refusal {
  /** Stable, for programs: `not-granted`, `stale`, `note-missing` … */
  code: string;
  /** One plain sentence for the person who asked. */
  sentence: string;
  /** Names of people or roles who could do it. */
  who?: string[];
  /** What would unblock it, one item each. */
  missing?: string[];
  /** The same for programs, by what each is known by, where they need it. */
  keys?: string[];
  /** The versions between which the text changed meanwhile, by their numbers. */
  changed?: { from: number; to: number };
  /** The form field it belongs to, where there is one. */
  field?: string;
}

/** What a decision or a command answers: a value, or the reason there is none. */
export type Result<T> = { ok: true; value: T } | { ok: false; refusal: Refusal };

/** Wraps an accepted value. */
export const accept = <T>(value: T): Result<T> => ({ ok: true, value });

/** Wraps a refusal. */
export const refuse = (refusal: Refusal): { ok: false; refusal: Refusal } => ({ ok: false, refusal });
