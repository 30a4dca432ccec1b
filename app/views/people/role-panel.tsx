import { useEffect, useState } from "react";
import { Link, useNavigate, useNavigation } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, Hidden, TextField } from "#app/ui/field.tsx";
import { Beside } from "#app/ui/page.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { type Extent, extentOf, PERMISSIONS, type Permission } from "#core/access/permissions.ts";
import type { RolePreview, RoleRow, Shift } from "#server/people/roles.ts";
import { ActForm } from "./act-form.tsx";
import type { RoleDraft } from "./role-draft.ts";

interface Props {
  role: RoleRow;
  roles: readonly RoleRow[];
  other: RoleRow | null;
  draft: RoleDraft;
  answer: FormAnswer | null;
}

/** Beside the matrix: the chosen role's name, what its change would do, and keeping it. */
export function RolePanel({ role, roles, other, draft, answer }: Props) {
  const navigate = useNavigate();
  const busy = useNavigation().state === "submitting";
  const preview = usePreview(role.key, draft);
  return (
    <Beside title={role.name} leave="/people/roles">
      <ActForm intent="save" answer={answer} sends={{ key: role.key, revision: role.revision }}>
        {draft.held.map((one) => (
          <Hidden key={one} name="permissions[]" value={one} />
        ))}
        {answer?.refusal?.code === "stale" && (
          <Link to="" reloadDocument className="text-13 text-blue underline">
            Show it as it is now
          </Link>
        )}
        <TextField label="Name" name="name" defaultValue={role.name} maxLength={80} />
        <Checkbox name="secondFactor" value="true" defaultChecked={role.secondFactor}>
          Who holds it signs in with a second factor
        </Checkbox>
        <Changes role={role} draft={draft} preview={preview} />
        <div className="flex gap-2">
          <Button look="go" busy={busy} disabled={draft.changed.length > 0 && preview === null}>
            {busy ? "Keeping …" : "Keep this"}
          </Button>
          {draft.changed.length > 0 && (
            <Button type="button" onClick={draft.reset}>
              As it was
            </Button>
          )}
        </div>
      </ActForm>
      <div className="mt-8 space-y-3">
        <SelectField
          label="Compare with"
          value={other?.key ?? ""}
          onChoose={(value) =>
            navigate(`?role=${role.key}${value ? `&with=${value}` : ""}`, {
              preventScrollReset: true,
            })
          }
          hint={other ? sayDifferences(role, other, draft) : undefined}
        >
          <Option value="">no other role</Option>
          {roles
            .filter((one) => one !== role)
            .map((one) => (
              <Option key={one.key} value={one.key}>
                {one.name}
              </Option>
            ))}
        </SelectField>
        <p className="text-13">
          <Link to={`?do=new&from=${role.key}`} className="font-semibold text-blue">
            Copy it to a new role
          </Link>
        </p>
        {role.holders === 0 && (
          <ActForm intent="delete" answer={answer} sends={{ key: role.key }}>
            <Button look="quiet" className="-ml-3">
              Do away with it
            </Button>
          </ActForm>
        )}
      </div>
    </Beside>
  );
}

function sayDifferences(role: RoleRow, other: RoleRow, draft: RoleDraft): string {
  const all = Object.keys(PERMISSIONS) as Permission[];
  const count = all.filter((one) => extentOf(draft.held, one) !== extentOf(other.permissions, one)).length;
  return count === 0
    ? `${role.name} and ${other.name} allow the same.`
    : `They differ in the ${count} rows that are marked.`;
}

const SAID: Record<Extent, string> = { yes: "yes", own: "own pieces only", no: "no" };

function Changes({ role, draft, preview }: { role: RoleRow; draft: RoleDraft; preview: RolePreview | null }) {
  if (draft.changed.length === 0) return null;
  return (
    <section aria-label="What this changes" aria-live="polite" className="border-y border-ink py-2 text-13">
      <h3 className="font-semibold">What this changes</h3>
      <ul className="mb-2">
        {draft.changed.map((one) => (
          <li key={one}>
            {PERMISSIONS[one]}: {SAID[extentOf(role.permissions, one)]} → {SAID[extentOf(draft.held, one)]}
          </li>
        ))}
      </ul>
      {preview === null ? (
        <p className="text-rail">Looking who that touches …</p>
      ) : (
        <>
          {preview.shifts.length === 0 && <p className="text-rail">It changes for nobody what they may do.</p>}
          <ul className="space-y-0.5">
            {preview.shifts.map((one) => (
              <li key={one.person.key + one.permission}>
                <Link to={`/people/who/${one.person.key}`} className="font-semibold hover:text-blue">
                  {one.person.name}
                </Link>{" "}
                {sayShift(one)}
              </li>
            ))}
          </ul>
          {preview.more > 0 && <p className="text-rail">And {preview.more} more hold it.</p>}
          {preview.breaks.length > 0 && (
            <div className="mt-2 border-l-3 border-red pl-2">
              <p className="font-semibold text-red">Workflows that would no longer hold</p>
              <ul>
                {preview.breaks.map((one) => (
                  <li key={one.key + one.sentence}>
                    <Link to={`/workflows/${one.key}`} className="font-semibold hover:text-blue">
                      {one.workflow}
                    </Link>
                    : {one.sentence}
                  </li>
                ))}
              </ul>
            </div>
          )}
        </>
      )}
    </section>
  );
}

const ORDER: Extent[] = ["no", "own", "yes"];

function sayShift({ permission, before, after, gained, lost }: Shift): string {
  const does = PERMISSIONS[permission];
  const pieces = (number: number) => (number === 1 ? "one piece" : `${number} pieces`);
  if (gained) return `may ${does}: ${pieces(gained)} more`;
  if (lost) return `may no longer ${does}: ${pieces(lost)}`;
  return `${ORDER.indexOf(after) > ORDER.indexOf(before) ? "may" : "may no longer"} ${does}`;
}

/** Asks the server, a moment after the last change, what the draft would do; null while it is not known. */
function usePreview(key: string, draft: RoleDraft): RolePreview | null {
  const held = [...draft.held].sort().join(",");
  const [known, setKnown] = useState<{ held: string; preview: RolePreview } | null>(null);
  const idle = draft.changed.length === 0;
  useEffect(() => {
    if (idle) return;
    const asking = new AbortController();
    const timer = setTimeout(() => {
      fetch(`/people/roles/preview?role=${key}&held=${held}`, { signal: asking.signal })
        .then((response) => (response.ok ? response.json() : Promise.reject(new Error(response.statusText))))
        .then((preview: RolePreview) => setKnown({ held, preview }))
        .catch(() => undefined);
    }, 250);
    return () => {
      clearTimeout(timer);
      asking.abort();
    };
  }, [key, held, idle]);
  return known?.held === held ? known.preview : null;
}
