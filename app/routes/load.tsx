import { data } from "react-router";
import { z } from "zod";
import { form, formNamed, type PageForm } from "#app/forms.ts";
import { requireLead } from "#app/leads.ts";
import { answered, guarded, misread, readForm } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { LoadView } from "#app/views/people/load.tsx";
import { sectionsByKey } from "#server/choices.ts";
import { limitInput, moveInput, passAllOn, passOn, setLimit } from "#server/load/commands.ts";
import { loadPage } from "#server/load/queries.ts";
import type { Route } from "./+types/load.ts";

/** So many moves are made with one press: each is a write of its own. */
const MOVES = 40;

export async function loader(args: Route.LoaderArgs) {
  const viewer = await requireLead(args);
  const section = new URL(args.request.url).searchParams.get("section");
  return { ...(await loadPage(args.context.db, viewer, section)), sections: sectionsByKey(viewer), most: MOVES };
}

const FORMS: Record<string, PageForm> = {
  move: form(moveInput, passOn),
  limit: form(limitInput, setLimit),
};

const all = z.object({
  moves: z
    .string()
    .max(40_000)
    .transform((text, issue) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        issue.addIssue({ code: "custom", message: "The moves did not arrive whole." });
        return z.NEVER;
      }
    })
    .pipe(z.array(moveInput).max(MOVES)),
});

export const action = guarded(async (args: Route.ActionArgs) => {
  const viewer = await requireLead(args);
  const act = args.context.act(viewer.id);
  const sent = await args.request.formData();
  const intent = String(sent.get("intent"));
  if (intent !== "even") {
    const done = await formNamed(FORMS, intent).submit(intent, sent, act);
    return "value" in done ? answered(intent) : done;
  }
  const read = readForm(all, sent);
  if ("fields" in read) return misread(intent, read.fields);
  const refused = await passAllOn(act, read.values.moves);
  if (refused.length === 0) return answered(intent);
  const sentence = `${refused.length} of ${read.values.moves.length} could not be moved.`;
  return data(
    { intent, fields: {}, refusal: { code: "some", sentence, missing: [...new Set(refused)] } },
    { status: 422 },
  );
});

export const meta: Route.MetaFunction = () => [{ title: "Load · Elenco" }];

export default function Load({ loaderData, actionData }: Route.ComponentProps) {
  return <LoadView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
