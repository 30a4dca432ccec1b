import { useSearchParams } from "react-router";
import { Message } from "#app/ui/message.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Changes } from "#app/views/studio/changes.tsx";
import { useCopy } from "#app/views/studio/copy.ts";
import { useFindings } from "#app/views/studio/findings.ts";
import { Rehearse } from "#app/views/studio/rehearse.tsx";
import { StudioBody, StudioHead } from "#app/views/studio/studio.tsx";
import { differences } from "#core/workflow/editing/differences.ts";
import type { Route } from "../../routes/+types/studio.ts";

/** A workflow in the studio, begun anew with another holder or another revision in use. */
export function StudioView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { studio } = loaderData;
  return (
    <Opened
      key={`${studio.key} ${studio.copy?.mine ?? true} ${studio.inUse?.revision ?? 0}`}
      {...loaderData}
      actionData={actionData}
    />
  );
}

type Data = Route.ComponentProps["loaderData"];

/** The studio as it stands for one holder and one revision in use; with another it begins anew. */
function Opened({
  studio,
  workflow,
  preview,
  calendar,
  now,
  formKey,
  actionData,
}: Data & Pick<Route.ComponentProps, "actionData">) {
  const [words] = useSearchParams();
  const look = words.get("look");
  const locked = studio.copy !== null && !studio.copy.mine && !studio.copy.idle;
  const copy = useCopy(
    `${studio.key} ${studio.inUse?.revision ?? 0}`,
    studio.key,
    { workflow, revision: studio.copy?.revision ?? 0 },
    locked,
  );
  const findings = useFindings(copy.workflow, studio.people);
  const shared = { studio, copy, findings, locked };
  const refusal = actionData?.refusal;
  return (
    <div className={`flex flex-col ${look ? "lg:min-h-[calc(100vh-44px)]" : "lg:h-[calc(100vh-44px)] print:h-auto"}`}>
      <StudioHead {...shared} look={look === "rehearse" || look === "changes" ? look : "edit"} />
      {refusal && actionData.intent !== "use" && (
        <div className="px-4 pt-3 md:px-6">
          <Message more={refusal.missing}>{refusal.sentence}</Message>
        </div>
      )}
      {look === "rehearse" ? (
        <Rehearse stage={{ workflow: copy.workflow, people: studio.people, calendar }} now={now} findings={findings} />
      ) : look === "changes" ? (
        <Changes
          {...shared}
          preview={preview}
          formKey={formKey}
          answer={actionData?.intent === "use" ? actionData : null}
          differing={studio.inUse ? differences(studio.inUse.document, copy.workflow) : []}
        />
      ) : (
        <StudioBody {...shared} />
      )}
    </div>
  );
}
