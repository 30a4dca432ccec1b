import { useMemo } from "react";
import { Button } from "#app/ui/button.tsx";
import type { People } from "#core/people/document.ts";
import type { Finding } from "#core/workflow/checking/check.ts";
import { identity, mends } from "#core/workflow/checking/mend.ts";
import type { Workflow } from "#core/workflow/document.ts";

interface Props {
  findings: Finding[] | null;
  workflow: Workflow;
  people: People;
  locked: boolean;
  shown: Finding | null;
  onShow(finding: Finding): void;
  onMend(workflow: Workflow): void;
}

/** What the checker found, a sentence each: errors first, then what is worth a look; each can be shown, and mended where there is an obvious way. */
export function FindingsList({ findings, workflow, people, locked, shown, onShow, onMend }: Props) {
  if (!findings) return <p className="py-2 text-13 text-rail">Checking …</p>;
  if (findings.length === 0) {
    return (
      <p className="grid grid-cols-[76px_1fr] py-2 text-13 text-rail">
        <span>sound</span>
        <span>
          Every state is reached and can be left, every step has people to take it, and nothing reaches readers past
          every review.
        </span>
      </p>
    );
  }
  // Each way to mend is tried before it is offered; of many, or on a long line, only for the one that is shown.
  const eager = findings.length <= 8 && workflow.states.length <= 50;
  const isShown = (finding: Finding) => shown !== null && identity(shown) === identity(finding);
  const pressing = findings.toSorted((a, b) => a.severity.localeCompare(b.severity));
  return (
    <ul>
      {pressing.map((finding) => (
        <li
          key={`${identity(finding)} ${finding.message}`}
          className={`grid grid-cols-[76px_minmax(0,1fr)] items-start gap-y-1 border-b border-rule py-1.5 text-13 sm:grid-cols-[76px_minmax(0,1fr)_auto] ${isShown(finding) ? "bg-wash" : ""}`}
        >
          <span className={`font-semibold ${finding.severity === "error" ? "text-red" : ""}`}>
            {finding.severity === "error" ? "problem" : "look"}
          </span>
          <span className="pr-3">{finding.message}</span>
          <span className="no-print col-start-2 flex flex-wrap justify-end gap-1.5 sm:col-start-3">
            {!locked && (eager || isShown(finding)) && <Mends {...{ finding, workflow, people, onMend }} />}
            <Button type="button" className="h-6! px-2! text-12!" onClick={() => onShow(finding)}>
              Show me
            </Button>
          </span>
        </li>
      ))}
    </ul>
  );
}

function Mends({
  finding,
  workflow,
  people,
  onMend,
}: Pick<Props, "workflow" | "people" | "onMend"> & { finding: Finding }) {
  const ways = useMemo(() => mends(workflow, people, finding), [workflow, people, finding]);
  return ways.slice(0, 2).map((mend) => (
    <Button
      key={mend.label}
      type="button"
      look="quiet"
      className="h-6! px-2! text-12!"
      onClick={() => onMend(mend.workflow)}
    >
      {mend.label}
    </Button>
  ));
}
