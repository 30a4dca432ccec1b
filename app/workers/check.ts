import type { People } from "#core/people/document.ts";
import { check } from "#core/workflow/checking/check.ts";
import type { Workflow } from "#core/workflow/document.ts";

/** Checks workflows apart from the page: answers each document with its findings, by the number it was asked under. */
self.addEventListener("message", ({ data }: MessageEvent<{ asked: number; workflow: Workflow; people: People }>) => {
  self.postMessage({ asked: data.asked, findings: check(data.workflow, data.people) });
});
