import { redirect, type ShouldRevalidateFunction } from "react-router";
import { requireLead } from "#app/leads.ts";
import { notFound } from "#app/request.ts";
import { LatelyView } from "#app/views/lists/lately.tsx";
import { narrowingChoices } from "#server/choices.ts";
import { lastLook, latelyPage, lookedLately } from "#server/pieces/lately.ts";
import { workflowNames } from "#server/workflows/queries.ts";
import type { Route } from "./+types/lately.ts";

const DAY = 86_400_000;
/** The days past one may look at. */
const DAYS = [1, 7, 30];
/** How far back is looked where somebody never looked before, in days. */
const FIRST_LOOK = 7;

/**
 * The page of this visit: the address says when the one before was, since opening the page is a visit too and
 * whatever is narrowed or loaded anew afterwards has to begin at the same moment.
 */
const thisVisit = (words: URLSearchParams, before: number | null) => {
  const next = new URLSearchParams(words);
  if (before === null) next.set("days", String(FIRST_LOOK));
  else next.set("since", String(before));
  return redirect(`/lately?${next}`);
};

export async function loader(asked: Route.LoaderArgs) {
  const viewer = await requireLead(asked);
  const { db } = asked.context;
  const words = new URL(asked.request.url).searchParams;
  const get = (key: string) => words.get(key)?.slice(0, 100) || undefined;
  const days = DAYS.find((one) => String(one) === get("days")) ?? null;
  const since = /^\d{1,13}$/.test(get("since") ?? "") ? Number(get("since")) : null;
  if (days === null && since === null) throw thisVisit(words, await lastLook(db, viewer));
  const from = days === null ? (since ?? viewer.now) : viewer.now - days * DAY;
  const wanted = {
    from,
    section: get("section"),
    workflow: get("workflow"),
    person: get("person"),
    by: words.get("by") === "person" ? ("person" as const) : ("piece" as const),
  };
  const [page, workflows] = await Promise.all([latelyPage(db, viewer, wanted), workflowNames(db)]);
  return {
    ...page,
    by: wanted.by,
    from,
    sinceLast: days === null,
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
