import type { AppLoadContext } from "react-router";
import { editionPage } from "#server/editions/page.ts";
import { notFound, requireViewer } from "./request.ts";

/** Where a request for an edition comes in. */
interface Asked {
  context: AppLoadContext;
  request: Request;
  params: { channel: string; number: string };
}

/** An edition by its address, for whoever is signed in. @throws a 404 response where there is none */
export async function editionAt({ context, request, params }: Asked) {
  const viewer = await requireViewer(context, request);
  const number = /^[1-9]\d{0,6}$/.test(params.number) ? Number(params.number) : null;
  const page = number === null ? null : await editionPage(context.db, viewer, params.channel, number, context);
  if (!page) throw notFound();
  return { viewer, page };
}
