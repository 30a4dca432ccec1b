import type { ShouldRevalidateFunction } from "react-router";
import { requireLead } from "#app/leads.ts";
import { notFound } from "#app/request.ts";
import { LatelyView } from "#app/views/lists/lately.tsx";
import { narrowingChoices } from "#server/choices.ts";
import { latelyPage, lookedLately } from "#server/pieces/lately.ts";
import { workflowNames } from "#server/workflows/queries.ts";
import type { Route } from "./+types/lately.ts";

/** The days past one may look at; else it is since one was last here. */
const DAYS = [1, 7, 30];

export async function loader(asked: Route.LoaderArgs) {
  const viewer = await requireLead(asked);
  const { db } = asked.context;
  const words = new URL(asked.request.url).searchParams;
  const get = (key: string) => words.get(key)?.slice(0, 100) || undefined;
  const wanted = {
    section: get("section"),
    workflow: get("workflow"),
    person: get("person"),
    days: DAYS.find((one) => String(one) === words.get("days")) ?? null,
    by: words.get("by") === "person" ? ("person" as const) : ("piece" as const),
  };
  const [page, workflows] = await Promise.all([latelyPage(db, viewer, wanted), workflowNames(db)]);
  return {
    ...page,
    by: wanted.by,
    days: wanted.days,
    choices: { ...narrowingChoices(viewer), workflows },
    looksOnly: Boolean(viewer.seenBy),
  };
}

export async function action(asked: Route.ActionArgs) {
  const viewer = await requireLead(asked);
  if ((await asked.request.formData()).get("intent") !== "looked") throw notFound();
  if (!viewer.seenBy) await lookedLately(asked.context.db, viewer);
  return null;
}

/** That one looked changes nothing one sees. */
export const shouldRevalidate: ShouldRevalidateFunction = ({ formData, defaultShouldRevalidate }) =>
  formData?.get("intent") !== "looked" && defaultShouldRevalidate;

export const meta: Route.MetaFunction = () => [{ title: "What happened · Elenco" }];

export default function Lately({ loaderData }: Route.ComponentProps) {
  return <LatelyView page={loaderData} />;
}
