import { formsOnly, guarded, notFound, requireViewer } from "#app/request.ts";
import { askPasskey, newPasskey } from "#server/people/passkeys.ts";
import type { Route } from "./+types/passkey.ts";

/** What a browser is to ask its device: for a passkey to sign in by, or to make a new one. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const intent = (await request.formData()).get("intent");
  if (intent === "give") return Response.json(await askPasskey(context.baseUrl));
  if (intent !== "make") throw notFound();
  const viewer = await requireViewer(context, request);
  return Response.json(await newPasskey(context.act(viewer.id)));
});

export const loader = formsOnly;
