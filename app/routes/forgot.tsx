import { z } from "zod";
import { answered, guarded, misread, readForm, runCommand } from "#app/request.ts";
import { ForgotView } from "#app/views/door/forgot.tsx";
import { askNewPassword } from "#server/people/accounts.ts";
import type { Route } from "./+types/forgot.ts";

const form = z.object({ email: z.email("A mail address, as in noor@example.org.") });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const read = readForm(form, await request.formData());
  if ("fields" in read) return misread("forgot", read.fields);
  const done = await runCommand("forgot", () => askNewPassword(context.act(null), read.values.email, context.address));
  return "value" in done ? answered("forgot") : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Forgot the password · Elenco" }];

export default function Forgot(props: Route.ComponentProps) {
  return <ForgotView {...props} />;
}
