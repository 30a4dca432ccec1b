import { redirect } from "react-router";
import { z } from "zod";
import { moment } from "#app/forms.ts";
import { filterIn } from "#app/piece-filter.ts";
import { guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { TogetherView } from "#app/views/lists/together.tsx";
import { choose } from "#server/pieces/lists.ts";
import { togetherChoices } from "#server/together/choices.ts";
import { beginBundle, doingInput, doingOf, TOGETHER_MOST } from "#server/together/commands.ts";
import { bundlesOf } from "#server/together/queries.ts";
import type { Route } from "./+types/together.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const [choices, lately] = await Promise.all([togetherChoices(context.db, viewer), bundlesOf(context.db, viewer)]);
  return { choices, lately };
}

const chosen = z.object({
  /** Ids, with spaces between. */
  ids: z
    .string()
    .max(TOGETHER_MOST * 40)
    .default("")
    .transform((text) => text.split(" ").filter(Boolean))
    .pipe(z.array(z.uuid()).max(TOGETHER_MOST, `At most ${TOGETHER_MOST} pieces are done together.`)),
  /** The words of a list's address, where all that fit them are meant. */
  all: z.string().max(2_000).optional(),
});

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const read = readForm(doingInput.extend({ ...chosen.shape, at: moment(viewer.zone) }), form);
  if ("fields" in read) return misread("together", read.fields);
  const { ids, all, ...wanted } = read.values;
  const done = await runCommand("together", async () => {
    const doing = doingOf(wanted);
    if (!doing.ok) return doing;
    const which = all === undefined ? { ids } : { filter: filterIn(new URLSearchParams(all)) };
    const pieces = await choose(context.db, viewer, which, TOGETHER_MOST + 1);
    return beginBundle(context.act(viewer.id), doing.value, pieces);
  });
  return "value" in done ? redirect(`/together/${done.value.id}`) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "One thing to many · Elenco" }];

export default function Together({ loaderData, actionData }: Route.ComponentProps) {
  return <TogetherView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
