import type { ReactNode } from "react";
import { useNavigation } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { PanelHead } from "#app/ui/page.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import type { KindRow } from "#server/kinds/commands.ts";
import { FieldRows } from "./field-rows.tsx";

/** A kind's fields in their order, each with its guidance and limits. */
export function KindForm({
  kind,
  answer,
  children,
}: {
  kind: KindRow;
  answer: FormAnswer | null;
  /** What else belongs to the kind. */
  children: ReactNode;
}) {
  const busy = useNavigation().state === "submitting";
  const errors = fieldErrors(answer, "save");
  return (
    <div className="min-w-0 border-rule px-4 py-5 md:px-6 lg:border-l">
      <PanelHead title={kind.name} leave="/publication/kinds" />
      <ActForm intent="save" answer={answer} sends={{ key: kind.key, revision: kind.revision }} className="space-y-4">
        <div className="max-w-80">
          <TextField label="Name" name="name" defaultValue={kind.name} maxLength={80} />
        </div>
        {errors.fields && <Message>{errors.fields}</Message>}
        <FieldRows fields={kind.fields} free />
        <div className="flex items-center gap-3">
          <Button look="go" busy={busy}>
            {busy ? "Keeping …" : "Keep this kind"}
          </Button>
          {answer?.intent === "save" && !answer.refusal && Object.keys(answer.fields).length === 0 && (
            <span role="status" className="text-13 text-rail">
              Kept.
            </span>
          )}
        </div>
      </ActForm>
      {children}
      {kind.pieces === 0 && (
        <ActForm intent="delete" answer={answer} className="mt-6">
          <Button look="quiet" name="key" value={kind.key} className="-ml-3">
            Do away with this kind
          </Button>
        </ActForm>
      )}
    </div>
  );
}
