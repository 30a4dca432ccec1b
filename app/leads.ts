import type { AppLoadContext } from "react-router";
import { notFound, requireViewer } from "./request.ts";
import { routesAnywhere } from "./views/frame/places.ts";

/** Who is signed in and passes work on somewhere. @throws the one 404 for everybody else */
export async function requireLead({ context, request }: { context: AppLoadContext; request: Request }) {
  const viewer = await requireViewer(context, request);
  if (!routesAnywhere(viewer, viewer.now)) throw notFound();
  return viewer;
}
