import type { ComponentProps } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { ProveAnew } from "./prove-anew.tsx";

/** A form whose act may ask for one's password first, in place. */
export function ActForm({
  answer,
  ...rest
}: Omit<ComponentProps<typeof ActionForm>, "answer" | "mend"> & { answer: FormAnswer | null | undefined }) {
  return <ActionForm answer={answer} mend={answer?.refusal?.code === "prove" && <ProveAnew />} {...rest} />;
}
