import { useCallback, useDeferredValue, useEffect, useMemo, useState } from "react";
import { Form, Link, useSearchParams } from "react-router";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { When } from "#app/views/time/clock.tsx";
import { type Lit, UNLIT } from "#app/views/workflow/track.tsx";
import type { Finding } from "#core/workflow/checking/check.ts";
import { stateOf, transitionOf, type Workflow } from "#core/workflow/document.ts";
import type { Studio } from "#server/workflows/queries.ts";
import type { Copy } from "./copy.ts";
import { Drawing } from "./drawing.tsx";
import { FindingsList } from "./findings-list.tsx";
import { type Chosen, type PanelProps, StatePanel } from "./state-panel.tsx";
import { TransitionPanel } from "./transition-panel.tsx";
import { WorkflowPanel } from "./workflow-panel.tsx";

interface Props {
  studio: Studio;
  copy: Copy;
  findings: Finding[] | null;
  locked: boolean;
}

/** Above every view of a workflow: where one is, what it is, whether it is saved, and what can be done with it. */
export function StudioHead({
  studio,
  copy,
  findings,
  locked,
  look,
}: Props & { look: "edit" | "rehearse" | "changes" }) {
  const { key, inUse } = studio;
  const pieces = Object.values(studio.here).reduce((sum, one) => sum + one.count, 0);
  const errors = findings?.filter((finding) => finding.severity === "error").length ?? 0;
  const to = `/workflows/${key}`;
  const changed = studio.copy !== null || copy.canUndo;
  return (
    <div className="border-b border-ink px-4 py-3 md:px-6">
      <p className="text-13 text-rail">
        <Link data-back to={look === "edit" ? "/workflows" : to} className="hover:text-blue">
          Workflows
        </Link>{" "}
        / {copy.workflow.name}
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2">
        <h1 className="max-w-full break-words">{copy.workflow.name}</h1>
        <p className="mr-auto text-13 text-rail">
          {studio.retired
            ? "retired"
            : inUse
              ? `revision ${inUse.revision}${changed ? ", being changed" : ""}`
              : "not in use yet"}
          {" · "}
          {pieces === 1 ? "1 piece" : `${pieces || "no"} pieces`} in flight ·{" "}
          {studio.places.join(", ") || "applies nowhere yet"} ·{" "}
          <span role="status">
            <Saved copy={copy} locked={locked} />
          </span>
        </p>
        <span className="no-print contents">
          {look === "edit" && !locked && (
            <>
              <Button type="button" disabled={!copy.canUndo} onClick={copy.undo} title="Ctrl Z">
                Undo
              </Button>
              <Button type="button" disabled={!copy.canRedo} onClick={copy.redo} title="Ctrl Shift Z">
                Redo
              </Button>
            </>
          )}
          {look !== "edit" && <ButtonLink to={to}>Back to the line</ButtonLink>}
          {look !== "rehearse" && <ButtonLink to={`${to}?look=rehearse`}>Rehearse</ButtonLink>}
          {look !== "changes" && (
            <ButtonLink look={changed && errors === 0 && !locked ? "go" : "plain"} to={`${to}?look=changes`}>
              {errors > 0 ? `What changes · ${errors} ${errors === 1 ? "problem" : "problems"}` : "What changes"}
            </ButtonLink>
          )}
        </span>
      </div>
      <Banner studio={studio} copy={copy} />
    </div>
  );
}

function Saved({ copy, locked }: { copy: Copy; locked: boolean }) {
  const { state } = copy;
  if (locked) return <>to look at only</>;
  if (state.kind === "kept") return <span className="text-red">not saved: {state.reason}, kept here</span>;
  if (state.kind === "refused") return <span className="text-red">not saved</span>;
  if (state.kind !== "saved") return <>saving …</>;
  if (state.at === null) return <>{copy.revision > 0 ? "saved" : "as it is in use"}</>;
  return (
    <>
      saved <When at={state.at} />
    </>
  );
}

/** Who else changes it, what is planned, and what was refused. */
function Banner({ studio, copy }: { studio: Studio; copy: Copy }) {
  const other = studio.copy && !studio.copy.mine ? studio.copy : null;
  return (
    <>
      {other && (
        <Form
          method="post"
          className="mt-2 flex items-center gap-3 border-l-3 border-yellow bg-paper py-2 pl-3 text-13"
        >
          <p>
            <span className="font-semibold">{other.holder}</span> {other.idle ? "changed" : "is changing"} this
            workflow, last <When at={other.touchedAt} />.
          </p>
          <Button name="intent" value="take-over">
            Take it over
          </Button>
        </Form>
      )}
      {studio.planned && (
        <Form
          method="post"
          className="mt-2 flex items-center gap-3 border-l-3 border-yellow bg-paper py-2 pl-3 text-13"
        >
          {studio.planned.held === null ? (
            <p>
              {studio.planned.by} planned a change of it for <When at={studio.planned.at} />.
            </p>
          ) : (
            <p>
              The change planned for <When at={studio.planned.at} /> is held:{" "}
              <span className="text-red">{studio.planned.held}</span>
            </p>
          )}
          <Button name="intent" value="cancel-plan">
            Take it back
          </Button>
        </Form>
      )}
      {copy.state.kind === "refused" && (
        <div className="mt-2">
          <Message more={copy.state.refusal.missing}>{copy.state.refusal.sentence}</Message>
          <Button type="button" className="mt-2" onClick={copy.takeTheirs}>
            Show me theirs, drop mine
          </Button>
        </div>
      )}
    </>
  );
}

/** The line, what is chosen on it, and what the checker says. */
export function StudioBody({ studio, copy, findings, locked }: Props) {
  const [words] = useSearchParams();
  const named = words.get("step");
  const [chosen, setChosen] = useState<Chosen>(named === null ? null : { transition: named });
  const [shown, setShown] = useState<Finding | null>(null);
  const { workflow } = copy;
  const here = chosen && stillThere(workflow, chosen) ? chosen : null;
  useUndoKeys(copy);
  const select = useCallback((next: Chosen) => {
    setChosen(next);
    setShown(null);
  }, []);
  // A long line is drawn anew behind the typing, never in its way.
  const drawn = useDeferredValue(workflow);
  const lit = useMemo(() => (shown ? litBy(drawn, shown) : UNLIT), [drawn, shown]);
  const shared = { workflow, people: studio.people, locked, change: copy.change, select };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_356px] lg:grid-rows-[minmax(0,1fr)]">
      <div className="flex min-h-0 min-w-0 flex-col">
        <Drawing {...shared} workflow={drawn} here={studio.here} chosen={here} lit={lit} />
        <section
          aria-label="Findings"
          className="max-h-52 overflow-auto print:max-h-none border-t border-ink px-4 py-1 md:px-6"
        >
          <FindingsList
            findings={findings}
            workflow={workflow}
            people={studio.people}
            locked={locked}
            shown={shown}
            onShow={(finding) => {
              setShown(finding);
              if (finding.at) setChosen(finding.at);
            }}
            onMend={(mended) => {
              copy.change(() => mended);
              setShown(null);
            }}
          />
        </section>
      </div>
      <aside
        aria-label="Settings"
        className="no-print min-h-0 overflow-auto border-rule bg-paper px-4 py-4 lg:border-l"
      >
        {here === null ? (
          <WorkflowPanel {...shared} studio={studio} forget={copy.forget} />
        ) : "state" in here ? (
          <StatePanel key={here.state} state={stateOf(workflow, here.state)} {...shared} />
        ) : (
          <Step transition={here.transition} {...shared} />
        )}
      </aside>
    </div>
  );
}

function Step({ transition, ...rest }: { transition: string } & PanelProps) {
  const step = transitionOf(rest.workflow, transition);
  return step ? <TransitionPanel key={step.key} step={step} {...rest} /> : null;
}

const stillThere = (workflow: Workflow, chosen: NonNullable<Chosen>) =>
  "state" in chosen
    ? workflow.states.some((state) => state.key === chosen.state)
    : transitionOf(workflow, chosen.transition) !== undefined;

/** What a finding lights: its place, and its path with the steps along it. */
function litBy(workflow: Workflow, { at, witness }: Finding): Lit {
  const path = witness && "path" in witness ? witness.path : [];
  const along = path.slice(1).flatMap((to, i) => {
    const from = path[i] as string;
    const step = workflow.transitions.find((one) => one.to === to && one.from.includes(from));
    return step ? [step.key] : [];
  });
  const places = at && "state" in at ? [at.state] : [];
  const steps = at && "transition" in at ? [at.transition] : [];
  return { states: new Set([...path, ...places]), steps: new Set([...along, ...steps]) };
}

/** Ctrl Z and Ctrl Shift Z, unless a field undoes its own typing. */
function useUndoKeys({ undo, redo }: Copy): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  });
}
