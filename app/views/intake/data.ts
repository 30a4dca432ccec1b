import { useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import type { Route } from "../../routes/+types/intake.ts";

/** What the intake's page is given. */
export type IntakeData = Route.ComponentProps["loaderData"];
export type Row = IntakeData["rows"][number];
export type Chosen = NonNullable<IntakeData["chosen"]>;
export type IntakeAnswer = (FormAnswer & { noted?: string | null }) | null;

/** What each sort is called, one and many. */
export const CALLED: Record<Row["sort"], [one: string, many: string]> = {
  request: ["Request", "Requests"],
  idea: ["Idea", "Ideas"],
  report: ["A reader says", "What readers say"],
  material: ["Material", "Material"],
};

/** The same page with some words of its address otherwise; an empty one goes. */
export function useWith(): (more: Readonly<Record<string, string>>) => string {
  const [words] = useSearchParams();
  return (more) => {
    const next = new URLSearchParams(words);
    for (const [name, value] of Object.entries({ new: "", ...more }))
      if (value === "") next.delete(name);
      else next.set(name, value);
    return `?${next}`;
  };
}
