import { type AppLoadContext, data, redirect } from "react-router";
import type { z } from "zod";
import { can, PUBLICATION } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import type { Refusal, Result } from "#core/refusal.ts";
import { isDatabaseGone } from "#server/db/client.ts";
import type { Viewer } from "#server/viewer.ts";
import type { FormAnswer } from "./form-answer.ts";

/** Who is signed in. @throws a redirect to the sign-in page that leads back here */
export async function requireViewer(context: AppLoadContext, request: Request): Promise<Viewer> {
  const viewer = await context.viewer();
  if (viewer) return viewer;
  const { pathname, search } = new URL(request.url);
  const to = pathname.replace(/\.data$/, "") + search;
  throw redirect(to === "/" ? "/sign-in" : `/sign-in?to=${encodeURIComponent(to)}`);
}

/** Who is signed in and may do this for the whole publication. @throws a 404 response for everybody else */
export async function requirePermission(
  context: AppLoadContext,
  request: Request,
  permission: Permission,
): Promise<Viewer> {
  const viewer = await requireViewer(context, request);
  if (can(viewer, permission, PUBLICATION, viewer.now).allowed) return viewer;
  throw notFound();
}

/** The one answer for what is missing and what one may not see. */
export const notFound = () => data(null, { status: 404 });

/** The loader of an address that forms are sent to and that shows no page of its own. */
export const formsOnly = () => {
  throw notFound();
};

/** Reads a form by its schema. */
export function readForm<S extends z.ZodType>(
  schema: S,
  form: FormData,
): { values: z.output<S> } | { fields: Record<string, string> } {
  const entries = [...new Set(form.keys())].map((key) => {
    const all = form.getAll(key);
    return [key, key.endsWith("[]") ? all : all.at(-1)] as const;
  });
  const parsed = schema.safeParse(Object.fromEntries(entries.map(([key, value]) => [key.replace("[]", ""), value])));
  if (parsed.success) return { values: parsed.data };
  return { fields: Object.fromEntries(parsed.error.issues.map((issue) => [String(issue.path[0]), issue.message])) };
}

/** What a form hears when all went well and the page stays. */
export const answered = (intent: string): FormAnswer => ({ intent, refusal: null, fields: {} });

/** A form's fields that were not understood, sent back to it. */
export const misread = (intent: string, fields: Record<string, string>) =>
  data<FormAnswer>({ intent, refusal: null, fields }, { status: 422 });

/**
 * Runs a command for a form: its refusal goes back to the form with what was typed left in place.
 *
 * @throws a 404 response where the command says there is no such thing
 */
export async function runCommand<T>(intent: string, command: () => Promise<Result<T>>) {
  const result = await command();
  if (result.ok) return { value: result.value };
  if (result.refusal.code === "not-found") throw notFound();
  const status = result.refusal.code === "stale" ? 409 : 422;
  return data<FormAnswer>({ intent, refusal: result.refusal, fields: {} }, { status });
}

const AWAY: Refusal = {
  code: "away",
  sentence: "The database does not answer. What you wrote is kept here; try again in a moment.",
};

/** Wraps an action so that its form keeps what was typed also when the database is away for a moment. */
export function guarded<A extends { request: Request }, R>(action: (args: A) => Promise<R>) {
  return async (args: A) => {
    const copy = args.request.clone();
    try {
      return await action(args);
    } catch (error) {
      if (!isDatabaseGone(error)) throw error;
      const form = await copy.formData().catch(() => new FormData());
      const answer: FormAnswer = { intent: String(form.get("intent") ?? ""), refusal: AWAY, fields: {} };
      return data(answer, { status: 503 });
    }
  };
}
