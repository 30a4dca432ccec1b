import type { AppLoadContext } from "react-router";
import { guestOf } from "#server/guests/queries.ts";
import { loadViewer } from "#server/viewer.ts";
import { notFound } from "./request.ts";

/**
 * Who comes by a guest's link. A guest is known by their link alone, whoever else is signed in in this browser.
 *
 * @throws a 404 response when the link is unknown, over or taken back
 */
export async function guestBy(context: AppLoadContext, secret: string) {
  const link = await guestOf(context.db, secret, context.now);
  const viewer = link && (await loadViewer(context.db, link.guestId, context.now));
  if (!link || !viewer) throw notFound();
  return { link, viewer };
}
