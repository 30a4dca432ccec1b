import type { FormAnswer } from "#app/form-answer.ts";
import { Message } from "#app/ui/message.tsx";
import { ProveAnew } from "./prove-anew.tsx";

/** A form's refusal, where it belongs to no field of it. */
export function Refused({
  answer,
  intent,
  shown = [],
}: {
  answer: FormAnswer | null | undefined;
  intent: string;
  shown?: readonly string[];
}) {
  const refusal = answer?.intent === intent ? answer.refusal : null;
  if (!refusal || (refusal.field && shown.includes(refusal.field))) return null;
  return (
    <>
      <Message more={refusal.missing}>{refusal.sentence}</Message>
      {refusal.code === "prove" && <ProveAnew />}
    </>
  );
}
