import { redirect } from "react-router";
import { z } from "zod";
import { away } from "#app/away-form.ts";
import { named } from "#app/forms.ts";
import { granting } from "#app/grant-form.ts";
import { answered, guarded, notFound, requirePermission, runCommand } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { PersonView } from "#app/views/people/person.tsx";
import { inviteAgain } from "#server/people/accounts.ts";
import { endAccess, restoreAccess, waitingOn, whatRemains } from "#server/people/leaving.ts";
import { choosable, grantChoices, personPage } from "#server/people/queries.ts";
import { clearFactors, signOutEverywhere } from "#server/people/rescue.ts";
import { maySeeAs } from "#server/people/see-as.ts";
import type { Route } from "./+types/people-person.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "access.edit");
  const page = await personPage(context.db, viewer, params.key);
  if (!page) throw notFound();
  const ending = new URL(request.url).searchParams.get("do") === "end" && page.active;
  const [choices, people, waiting, remains] = await Promise.all([
    grantChoices(context.db, viewer),
    choosable(context.db, viewer),
    waitingOn(context.db, viewer, page.id),
    ending ? whatRemains(context.db, viewer, page) : null,
  ]);
  const self = page.id === viewer.id;
  return {
    page,
    choices,
    people,
    waiting,
    remains,
    self,
    mayLook: maySeeAs(viewer, viewer.now) && !self && page.active,
  };
}

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "access.edit");
  const page = await personPage(context.db, viewer, params.key);
  if (!page) throw notFound();
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  const absent = await away(intent, form, act, page.id, viewer);
  if (absent) return absent;
  const given = await granting(intent, form, act, viewer, { personId: page.id });
  if (given) return given;
  if (intent === "end-access") {
    const handovers = [...form.entries()].flatMap(([name, to]) => {
      const [sort, pieceId] = name.split(":");
      const known = z.enum(["seat", "assignment", "text"]).safeParse(sort);
      return known.success && pieceId && typeof to === "string" && to ? [{ sort: known.data, pieceId, to }] : [];
    });
    const done = await runCommand(intent, () => endAccess(act, { personId: page.id, handovers }));
    return "value" in done ? redirect(`/people/who/${params.key}`) : done;
  }
  const simple = named(
    { again: inviteAgain, restore: restoreAccess, everywhere: signOutEverywhere, factors: clearFactors },
    intent,
  );
  if (!simple) throw notFound();
  const done = await runCommand(intent, () => simple(act, page.id));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${(loaderData as { page?: { name: string } } | undefined)?.page?.name ?? "Person"} · Elenco` },
];

export default function Person({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  return <PersonView key={loaderData.page.id} {...loaderData} answer={actionData ?? null} />;
}
