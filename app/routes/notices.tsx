import type { ShouldRevalidateFunction } from "react-router";
import { notFound, requireViewer } from "#app/request.ts";
import { NoticesView } from "#app/views/lists/notices.tsx";
import { looked, markRead } from "#server/notices/commands.ts";
import { foldNotices, lastLook, listNotices } from "#server/notices/queries.ts";
import type { Route } from "./+types/notices.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const [rows, lookedAt] = await Promise.all([listNotices(context.db, viewer), lastLook(context.db, viewer)]);
  return { folds: foldNotices(rows), lookedAt, looksOnly: Boolean(viewer.seenBy) };
}

export async function action({ context, request }: Route.ActionArgs) {
  const viewer = await requireViewer(context, request);
  const intent = (await request.formData()).get("intent");
  if (intent !== "read" && intent !== "looked") throw notFound();
  if (!viewer.seenBy) await (intent === "read" ? markRead : looked)(context.db, viewer);
  return null;
}

/** That one looked changes nothing one sees. */
export const shouldRevalidate: ShouldRevalidateFunction = ({ formData, defaultShouldRevalidate }) =>
  formData?.get("intent") !== "looked" && defaultShouldRevalidate;

export const meta: Route.MetaFunction = () => [{ title: "Notices · Elenco" }];

export default function Notices(props: Route.ComponentProps) {
  return <NoticesView {...props} />;
}
