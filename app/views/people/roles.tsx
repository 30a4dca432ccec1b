import { useSearchParams } from "react-router";
import { ButtonLink } from "#app/ui/button.tsx";
import { Split } from "#app/ui/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Matrix } from "#app/views/people/matrix.tsx";
import { NewRole } from "#app/views/people/new-role.tsx";
import { useRoleDraft } from "#app/views/people/role-draft.ts";
import { RolePanel } from "#app/views/people/role-panel.tsx";
import { WhoHas } from "#app/views/people/who-has.tsx";
import type { Route } from "../../routes/+types/people-roles.ts";

/** What each role allows, as a matrix, with the chosen role beside it. */
export function RolesView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { roles, permission, having } = loaderData;
  const [words] = useSearchParams();
  const chosen = roles.find((one) => one.key === words.get("role")) ?? null;
  const other = roles.find((one) => one.key === words.get("with")) ?? null;
  const draft = useRoleDraft(chosen);
  const making = words.get("do") === "new";
  const beside = chosen ? (
    <RolePanel key={chosen.key} role={chosen} roles={roles} other={other} draft={draft} answer={actionData ?? null} />
  ) : permission ? (
    <WhoHas permission={permission} having={having} />
  ) : making ? (
    <NewRole roles={roles} answer={actionData ?? null} />
  ) : null;
  return (
    <Split beside={beside}>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="mr-auto">What each role allows</h1>
        <ButtonLink to="?do=new">New role</ButtonLink>
      </div>
      <Matrix roles={roles} chosen={chosen} other={other} draft={draft} permission={permission} />
    </Split>
  );
}
