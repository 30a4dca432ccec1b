import type { ShouldRevalidateFunctionArgs } from "react-router";
import { flowWanted } from "#app/flow-filter.ts";
import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, requireViewer } from "#app/request.ts";
import { FlowView } from "#app/views/flow/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { colleagues, kindNames, sectionNames, sectionsByKey } from "#server/choices.ts";
import { flowPage } from "#server/flow/queries.ts";
import { dropTarget, ofTarget, setTarget, targetChannels, targetInput, targetsSeen } from "#server/flow/targets.ts";
import type { Route } from "./+types/flow.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const wanted = flowWanted(new URL(request.url).searchParams);
  const [page, targets, channels] = await Promise.all([
    flowPage(context.db, viewer, wanted),
    targetsSeen(context.db, viewer),
    targetChannels(context.db),
  ]);
  const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);
  return {
    page,
    targets,
    /** Whether the viewer may set targets, and what for; null where not. */
    sets: can(viewer, "publication.edit", PUBLICATION, viewer.now).allowed
      ? { kinds: kindNames(viewer), sections: sectionNames(viewer), channels }
      : null,
    wanted,
    choices: {
      sections: sectionsByKey(viewer),
      kinds: viewer.kinds.map(({ key, name }) => ({ key, name })).sort(byName),
      people: colleagues(viewer).map(({ id, name }) => ({ key: id, name })),
    },
  };
}

const FORMS: Record<string, PageForm> = {
  "set-target": form(targetInput, setTarget),
  "drop-target": form(ofTarget, dropTarget),
};

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(FORMS, intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? answered(intent) : done;
});

/** Which way is looked at, and how the flow is shown, changes nothing that was computed. */
export function shouldRevalidate({ currentUrl, nextUrl, defaultShouldRevalidate }: ShouldRevalidateFunctionArgs) {
  const asked = ({ pathname, searchParams }: URL) => {
    const words = new URLSearchParams(searchParams);
    for (const name of ["piece", "as", "try"]) words.delete(name);
    return `${pathname}?${words}`;
  };
  return currentUrl.href !== nextUrl.href && asked(currentUrl) === asked(nextUrl) ? false : defaultShouldRevalidate;
}

export const meta: Route.MetaFunction = () => [{ title: "Flow · Elenco" }];

export default function Flow({ loaderData, actionData }: Route.ComponentProps) {
  return <FlowView data={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
