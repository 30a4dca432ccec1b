import { redirect } from "react-router";
import { form, named, type PageForm } from "#app/forms.ts";
import { answered, guarded, notFound, requirePermission } from "#app/request.ts";
import { broughtIn } from "#app/rules-file.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { RulesView } from "#app/views/publication/rules.tsx";
import { checkRules } from "#core/rules/check.ts";
import { callSecret, callsOf } from "#server/rules/calls.ts";
import { deleteRule, ofRule, ruleInput, saveRule, switchInput, switchRule } from "#server/rules/commands.ts";
import { ruleChoices } from "#server/rules/names.ts";
import { actedBy, actsOf, tried } from "#server/rules/page.ts";
import { knownHere, loadRules } from "#server/rules/rows.ts";
import type { Route } from "./+types/publication-rules.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const { db } = context;
  const viewer = await requirePermission(context, request, "workflow.edit");
  const words = new URL(request.url).searchParams;
  const [rules, choices, known, acts] = await Promise.all([
    loadRules(db),
    ruleChoices(db),
    knownHere(db),
    actsOf(db, viewer.now),
  ]);
  const key = words.get("rule");
  const chosen = rules.find((one) => one.key === key) ?? null;
  // An address without a name is for a new one.
  if (key && !chosen) throw notFound();
  const [acted, trial, calls] = chosen
    ? await Promise.all([
        actedBy(db, viewer, chosen.id),
        words.has("try") ? tried(db, viewer, chosen) : null,
        callsOf(db, viewer, chosen.id),
      ])
    : [[], null, []];
  const called = chosen?.then.some((action) => action.do === "call") === true;
  return {
    rules: rules.map((one) => ({ ...one, acts: acts.get(one.id) ?? null })),
    chosen,
    isNew: key === "",
    acted,
    trial,
    calls,
    /** What its calls are signed with; null for a rule that makes none. */
    callSecret: called && chosen ? callSecret(chosen.id) : null,
    choices,
    findings: checkRules(rules, known),
    known: {
      workflows: known.workflows,
      roles: [...known.roles],
      people: [...known.people],
      fields: [...known.fields],
      sections: [...known.sections],
      kinds: [...known.kinds],
    },
  };
}

const FORMS: Record<string, PageForm> = {
  switch: form(switchInput, switchRule),
  delete: form(ofRule, deleteRule, true),
};

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "workflow.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "save") {
    const done = await form(ruleInput, saveRule).submit(intent, sent, act);
    if (!("value" in done)) return done;
    const { key } = done.value as { key: string };
    return sent.get("id") ? answered(intent) : redirect(`/publication/rules?rule=${key}`);
  }
  if (intent === "bring") {
    const done = await broughtIn(act, sent.get("file"));
    return "count" in done ? { ...answered(intent), count: done.count } : done;
  }
  const simple = named(FORMS, intent);
  if (!simple) throw notFound();
  const done = await simple.submit(intent, sent, act);
  if (!("value" in done)) return done;
  return simple.leaves ? redirect("/publication/rules") : answered(intent);
});

export const meta: Route.MetaFunction = () => [{ title: "Rules · Elenco" }];

export default function Rules({ loaderData, actionData }: Route.ComponentProps) {
  return <RulesView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
