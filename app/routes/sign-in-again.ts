import { data } from "react-router";
import { z } from "zod";
import { keepSession } from "#app/browser.ts";
import { answered, formsOnly, guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { proveAnew } from "#server/people/passwords.ts";
import type { Route } from "./+types/sign-in-again.ts";

const form = z.object({ password: z.string().min(1, "Your password.").max(1000, "At most 200 characters fit.") });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const read = readForm(form, await request.formData());
  if ("fields" in read) return misread("prove", read.fields);
  const act = context.act(viewer.id);
  const done = await runCommand("prove", () => proveAnew(act, read.values.password, context.secret ?? ""));
  return "value" in done ? data(answered("prove"), { headers: keepSession(context, done.value) }) : done;
});

export const loader = formsOnly;
