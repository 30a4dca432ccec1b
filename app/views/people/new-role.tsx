import { useNavigation, useSearchParams } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Beside } from "#app/ui/page.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import type { RoleRow } from "#server/people/roles.ts";

/** A role of the team's own, from nothing or as a copy. */
export function NewRole({ roles, answer }: { roles: readonly RoleRow[]; answer: FormAnswer | null }) {
  const [words] = useSearchParams();
  const busy = useNavigation().state === "submitting";
  const errors = fieldErrors(answer, "add");
  return (
    <Beside title="A new role" leave="/people/roles">
      <ActForm intent="add" answer={answer}>
        <TextField label="Name" name="name" maxLength={80} required autoFocus error={errors.name} />
        <SelectField label="Begin as" name="from" defaultValue={words.get("from") ?? ""}>
          <Option value="">a role that allows nothing</Option>
          {roles.map((one) => (
            <Option key={one.key} value={one.key}>
              a copy of {one.name}
            </Option>
          ))}
        </SelectField>
        <Button look="go" busy={busy}>
          Make it
        </Button>
      </ActForm>
    </Beside>
  );
}
