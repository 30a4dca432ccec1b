import { data, redirect } from "react-router";
import { z } from "zod";
import { notFound, requireViewer, runCommand } from "#app/request.ts";
import { beginSeeingAs, endSeeingAs } from "#server/people/see-as.ts";
import type { Route } from "./+types/see-as.ts";

export async function action({ context, request }: Route.ActionArgs) {
  const viewer = await requireViewer(context, request);
  const secret = context.secret ?? "";
  const form = await request.formData();
  if (form.get("intent") === "leave") {
    await endSeeingAs(context.act(viewer.seenBy?.id ?? viewer.id), secret);
    return redirect(viewer.seenBy ? `/people/who/${viewer.key}` : "/turn");
  }
  const personId = z.uuid().safeParse(form.get("person"));
  if (!personId.success) throw notFound();
  const done = await runCommand("see-as", () =>
    beginSeeingAs(context.act(viewer.id), { personId: personId.data, secret }),
  );
  if (!("value" in done)) throw data(done.data.refusal?.sentence ?? null, { status: 403 });
  return redirect("/turn");
}

export const loader = () => redirect("/turn");
