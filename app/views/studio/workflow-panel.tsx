import { Form } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Workflow } from "#core/workflow/document.ts";
import type { Studio } from "#server/workflows/queries.ts";
import { ChoiceSetting, DateSetting, Group, NameSetting, TextSetting } from "./settings.tsx";
import type { PanelProps } from "./state-panel.tsx";

/** The workflow as a whole: its name and purpose, when it is valid, where pieces begin, its files, and how it ends. */
export function WorkflowPanel({
  workflow,
  locked,
  change,
  studio,
  forget,
}: Omit<PanelProps, "people" | "select"> & { studio: Studio; forget(): void }) {
  const put = (part: Partial<Workflow>, setting: string | null = null) =>
    change((before) => clean({ ...before, ...part }), setting);
  const effective = (part: NonNullable<Workflow["effective"]>) =>
    put({ effective: { ...workflow.effective, ...part } });
  return (
    <>
      <h2 className="text-19!">The workflow</h2>
      <p className="text-13 text-rail">Choose a stop or a step to set it up.</p>
      <Group title="As a whole">
        <NameSetting label="Name" value={workflow.name} locked={locked} onChange={(name) => put({ name }, "name")} />
        <TextSetting
          label="What it is for"
          value={workflow.purpose ?? ""}
          locked={locked}
          onChange={(purpose) => put({ purpose: purpose || undefined }, "purpose")}
        />
        <ChoiceSetting
          label="Pieces begin at"
          value={workflow.initial}
          options={workflow.states.map((state) => [state.key, state.name] as const)}
          locked={locked}
          onChange={(initial) => put({ initial })}
        />
        <DateSetting
          label="Valid from"
          value={workflow.effective?.from}
          locked={locked}
          onChange={(from) => effective({ from })}
        />
        <DateSetting
          label="Valid until"
          value={workflow.effective?.until}
          locked={locked}
          onChange={(until) => effective({ until })}
        />
      </Group>
      <Group title="In use">
        {studio.inUse ? (
          <p className="py-1.5 text-13">
            Revision {studio.inUse.revision}
            {studio.inUse.by ? `, by ${studio.inUse.by}` : ""}, <When at={studio.inUse.at} />.
            {studio.inUse.acknowledged.length > 0 && (
              <span className="mt-1 block text-rail">Acknowledged then: {studio.inUse.acknowledged.join(" ")}</span>
            )}
          </p>
        ) : (
          <p className="py-1.5 text-13 text-rail">It has never been in use.</p>
        )}
        <p className="flex gap-4 py-1.5 text-13">
          {(["json", "scxml", "mermaid"] as const).map((form) => (
            <a
              key={form}
              className="text-blue underline underline-offset-3"
              href={`/workflows/${studio.key}/document?as=${form}`}
              download
            >
              {{ json: "JSON", scxml: "SCXML", mermaid: "Mermaid" }[form]}
            </a>
          ))}
        </p>
      </Group>
      <Form method="post" className="mt-4 flex flex-wrap gap-2">
        {!locked && studio.copy && (
          <Button name="intent" value="discard" onClick={forget}>
            {studio.inUse ? "Throw the changes away" : "Throw it away"}
          </Button>
        )}
        {studio.inUse && !studio.retired && (
          <Button name="intent" value="retire">
            Retire
          </Button>
        )}
        {studio.retired && (
          <Button name="intent" value="revive">
            Take up again
          </Button>
        )}
        {studio.inUse && (
          <Button name="intent" value="delete">
            Delete
          </Button>
        )}
      </Form>
    </>
  );
}

/** A period with neither end is none, and what is undefined is not there. */
function clean(workflow: Workflow): Workflow {
  const { effective, purpose, ...rest } = workflow;
  const period = Object.fromEntries(Object.entries(effective ?? {}).filter(([, day]) => day !== undefined));
  return {
    ...rest,
    ...(purpose !== undefined && { purpose }),
    ...(Object.keys(period).length > 0 && { effective: period }),
  };
}
