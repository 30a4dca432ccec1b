import { useEffect, useMemo, useRef, useState } from "react";
import type { People } from "#core/people/document.ts";
import { check, type Finding } from "#core/workflow/checking/check.ts";
import type { Workflow } from "#core/workflow/document.ts";

/** Beyond this many states the checker runs in a worker, so that typing stays smooth. */
const APART = 50;

/** The findings of a workflow as it is being changed; null only until a worker's first answer. */
export function useFindings(workflow: Workflow, people: People): Finding[] | null {
  const apart = workflow.states.length > APART;
  const here = useMemo(() => (apart ? null : check(workflow, people)), [apart, workflow, people]);
  const there = useWorker(apart ? workflow : null, people);
  return here ?? there;
}

function useWorker(workflow: Workflow | null, people: People): Finding[] | null {
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  const [findings, setFindings] = useState<Finding[] | null>(null);
  useEffect(() => {
    if (!workflow) return;
    worker.current ??= new Worker(new URL("../../workers/check.ts", import.meta.url), { type: "module" });
    asked.current += 1;
    worker.current.onmessage = ({ data }: MessageEvent<{ asked: number; findings: Finding[] }>) => {
      if (data.asked === asked.current) setFindings(data.findings);
    };
    worker.current.postMessage({ asked: asked.current, workflow, people });
  }, [workflow, people]);
  useEffect(() => () => worker.current?.terminate(), []);
  return findings;
}
