import type { Refusal } from "#core/refusal.ts";

/** What an action tells the form it came from. */
export interface FormAnswer {
  intent: string;
  refusal: Refusal | null;
  /** A sentence for each field that was not understood. */
  fields: Record<string, string>;
}

/** A sentence for each field of a form: what was not understood, and what the command refused about one. */
export function fieldErrors(answer: FormAnswer | null | undefined, intent: string): Record<string, string> {
  if (answer?.intent !== intent) return {};
  const { refusal, fields } = answer;
  return refusal?.field ? { ...fields, [refusal.field]: refusal.sentence } : fields;
}
