import { type AppLoadContext, data, redirect } from "react-router";
import type { z } from "zod";
import { can, PUBLICATION } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import type { Refusal, Result } from "#core/refusal.ts";
import { isDatabaseGone, isDiskFull } from "#server/db/client.ts";
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

/** A form has so many values at most: two for each of a thousand pieces acted on together. */
const VALUES_MOST = 2_000;

/** Reads a form by its schema: of a name that stands several times the last value, of one that ends in `[]` all. */
export function readForm<S extends z.ZodType>(
  schema: S,
  form: FormData,
): { values: z.output<S> } | { fields: Record<string, string> } {
  const values = new Map<string, unknown>();
  let count = 0;
  for (const [key, value] of form) {
    if (++count > VALUES_MOST) return { fields: { "": `A form holds ${VALUES_MOST} values at most.` } };
    if (!key.endsWith("[]")) values.set(key, value);
    else {
      const name = key.slice(0, -2);
      const all = values.get(name);
      if (Array.isArray(all)) all.push(value);
      else values.set(name, [value]);
    }
  }
  const parsed = schema.safeParse(Object.fromEntries(values));
  if (parsed.success) return { values: parsed.data };
  return { fields: Object.fromEntries(parsed.error.issues.map((issue) => [String(issue.path[0]), issue.message])) };
}

/** So deep what is sent as JSON is nested at most; reading more takes the node longer than it may. */
const DEEPEST = 100;

/** What was sent as JSON; null where it is none, or nested too deep to be read. */
export async function readJson(request: Request): Promise<unknown> {
  const text = await request.text();
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    const sign = text[i];
    if (sign === '"') {
      while (++i < text.length && text[i] !== '"') if (text[i] === "\\") i++;
    } else if (sign === "[" || sign === "{") {
      if (++depth > DEEPEST) return null;
    } else if (sign === "]" || sign === "}") depth--;
  }
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** What a form hears when all went well and the page stays. */
export const answered = (intent: string): FormAnswer => ({ intent, refusal: null, fields: {} });

/** A form's fields that were not understood, sent back to it; what is wrong with all of it is said as a refusal. */
export const misread = (intent: string, { "": whole, ...fields }: Record<string, string>) =>
  data<FormAnswer>(
    { intent, refusal: whole === undefined ? null : { code: "form", sentence: whole }, fields },
    { status: 422 },
  );

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

const FULL: Refusal = {
  code: "full",
  sentence: "The server’s disk is full. What you wrote is kept here; tell whoever runs Elenco, and try again then.",
};

const SIGNED_OUT: Refusal = {
  code: "signed-out",
  sentence: "You are signed out. What you typed stays here: sign in in another window, and send it again.",
};

const leadsToTheDoor = (error: unknown) =>
  error instanceof Response && error.headers.get("Location")?.startsWith("/sign-in") === true;

/** What ends an action without its being anybody's fault, and what is answered then. */
const MENDED: [is: (error: unknown) => boolean, refusal: Refusal, status: number][] = [
  [leadsToTheDoor, SIGNED_OUT, 401],
  [isDatabaseGone, AWAY, 503],
  [isDiskFull, FULL, 507],
];

/**
 * Wraps an action so that its form keeps what was typed also when the session is over, the database
 * away for a moment, or a disk full: the answer stays where the person acted.
 *
 * @param typedIn brings back what was typed, for a page that keeps nothing by itself since it has no script
 */
export function guarded<A extends { request: Request }, R>(
  action: (args: A) => Promise<R>,
  typedIn: (form: FormData) => Record<string, string> = () => ({}),
) {
  return async (args: A) => {
    const copy = args.request.clone();
    try {
      return await action(args);
    } catch (error) {
      const [, refusal, status] = MENDED.find(([is]) => is(error)) ?? [];
      if (!refusal) throw error;
      const form = await copy.formData().catch(() => new FormData());
      const answer: FormAnswer = { intent: String(form.get("intent") ?? ""), refusal, fields: {} };
      return data({ ...answer, typed: typedIn(form) }, { status });
    }
  };
}
