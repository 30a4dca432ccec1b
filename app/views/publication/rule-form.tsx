import { type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Message, Status } from "#app/ui/message.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { checkRules } from "#core/rules/check.ts";
import {
  canDo,
  isComing,
  NO_PIECE_YET,
  RULE_EVENTS,
  type Rule,
  type RuleEvent,
  ruleSchema,
} from "#core/rules/document.ts";
import { namesOf } from "#core/rules/names.ts";
import { EVENT_WORDS, sayRule } from "#core/rules/say.ts";
import { Among } from "./among.tsx";
import { ActionRow, emptyAction } from "./rule-actions.tsx";
import { ConditionRow, emptyCondition } from "./rule-conditions.tsx";
import type { RulesData } from "./rules-data.ts";

type Draft = Omit<Rule, "key" | "on">;

const FRESH: Draft = {
  name: "",
  when: { event: "piece.arrived" },
  if: [],
  then: [emptyAction("notify")],
};

/** A rule put together from words; it reads as one sentence, and what is wrong with it is said while one chooses. */
export function RuleForm({ page, answer }: { page: RulesData; answer: FormAnswer | null }) {
  const { chosen, choices, rules, known } = page;
  const busy = useBusy("save");
  const [draft, setDraft] = useState<Draft>(() =>
    chosen ? { name: chosen.name, when: chosen.when, if: chosen.if, then: chosen.then } : FRESH,
  );
  const next = useRef<string | null>(null);
  useEffect(() => {
    if (next.current === null) return;
    document.getElementById(next.current)?.querySelector("button")?.focus();
    next.current = null;
  });
  /** Changes the rule, and says where the keyboard goes: to the row that came, or to what adds one. */
  const change = (to: Draft, place: string) => {
    next.current = place;
    setDraft(to);
  };
  const names = namesOf(choices);
  const key = chosen?.key ?? "this-rule";
  const on = chosen?.on ?? false;
  const whole = ruleSchema.safeParse({ ...draft, name: draft.name || "This rule", key, on });
  const findings = useMemo(() => {
    const read = ruleSchema.safeParse({ ...draft, name: draft.name || "This rule", key, on: true });
    if (!read.success) return [];
    const others = rules.filter((one) => one.key !== key && one.on);
    const sets = (some: readonly string[]) => new Set(some);
    return checkRules([...others, read.data], {
      workflows: known.workflows,
      roles: sets(known.roles),
      people: sets(known.people),
      fields: sets(known.fields),
      sections: sets(known.sections),
      kinds: sets(known.kinds),
    }).filter(({ at, witness }) => at?.rule === key || witness?.rules.includes(key));
  }, [draft, key, rules, known]);
  const line = choices.workflows.filter((one) => draft.when.workflow === undefined || one.key === draft.when.workflow);
  const errors = fieldErrors(answer, "save");
  const kept = answer?.intent === "save" && !answer.refusal && Object.keys(answer.fields).length === 0;
  return (
    <ActionForm
      intent="save"
      label="The rule"
      answer={answer}
      sends={{
        id: chosen?.id ?? "",
        revision: chosen?.revision ?? 0,
        rule: JSON.stringify({ ...draft, on }),
      }}
      className="mt-5 max-w-220 space-y-5"
    >
      <div className="max-w-120">
        <TextField
          label="Name"
          name="called"
          required
          maxLength={120}
          value={draft.name}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
      </div>
      <Words title="When">
        <WhenRow when={draft.when} choices={choices} line={line} onChange={(when) => setDraft({ ...draft, when })} />
      </Words>
      <Words title="If">
        {draft.if.map((one, i) => (
          <ConditionRow
            // biome-ignore lint/suspicious/noArrayIndexKey: a condition is known by its place
            key={i}
            at={i + 1}
            condition={one}
            fields={choices.fields}
            onChange={(next) => setDraft({ ...draft, if: draft.if.with(i, next) })}
            onRemove={() => change({ ...draft, if: draft.if.toSpliced(i, 1) }, "rule-if")}
          />
        ))}
        <span id="rule-if">
          <Button
            look="quiet"
            type="button"
            className="-ml-3"
            onClick={() =>
              change({ ...draft, if: [...draft.if, emptyCondition()] }, `condition-${draft.if.length + 1}`)
            }
          >
            {draft.if.length === 0 ? "Only if …" : "And only if …"}
          </Button>
        </span>
      </Words>
      <Words title="Then">
        {draft.then.map((one, i) => (
          <ActionRow
            // biome-ignore lint/suspicious/noArrayIndexKey: an act is known by its place
            key={i}
            at={i + 1}
            action={one}
            event={draft.when.event}
            choices={choices}
            line={line}
            onChange={(next) => setDraft({ ...draft, then: draft.then.with(i, next) })}
            onRemove={
              draft.then.length > 1
                ? () => change({ ...draft, then: draft.then.toSpliced(i, 1) }, "rule-then")
                : undefined
            }
          />
        ))}
        <span id="rule-then">
          <Button
            look="quiet"
            type="button"
            className="-ml-3"
            onClick={() =>
              change(
                { ...draft, then: [...draft.then, emptyAction(isComing(draft.when.event) ? "notify" : "due")] },
                `act-${draft.then.length + 1}`,
              )
            }
          >
            And then …
          </Button>
        </span>
      </Words>
      <p role="status" aria-label="As a sentence" className="border-l-3 border-blue pl-3 text-15 break-words">
        {sayRule(draft, names)}
      </p>
      {findings.map((one) => (
        <Message
          key={`${one.code} ${one.message}`}
        >{`${one.message.charAt(0).toUpperCase()}${one.message.slice(1)}`}</Message>
      ))}
      {draft.then.some((one) => !canDo(draft.when.event, one.do)) ? (
        <Message>{NO_PIECE_YET}</Message>
      ) : (
        errors.rule && <Message>{errors.rule}</Message>
      )}
      <div className="flex items-center gap-3">
        <Button look={on ? "go" : "plain"} busy={busy} disabled={!whole.success}>
          {chosen ? "Keep it" : "Keep it, switched off"}
        </Button>
        {!whole.success && <span className="text-13 text-rail">{missing(draft, whole.error.issues)}</span>}
        {kept && <Status>Kept.</Status>}
      </div>
    </ActionForm>
  );
}

/** What is still to be filled in. */
function missing(draft: Draft, issues: readonly { path: PropertyKey[] }[]): string {
  const [part, at] = issues[0]?.path ?? [];
  if (part === "if") return `Something is missing in condition ${Number(at) + 1}.`;
  if (part === "then") return `Something is missing in what it does, ${Number(at) + 1}.`;
  return draft.name.trim() === "" ? "It needs a name." : "Something is missing.";
}

const Words = ({ title, children }: { title: string; children: ReactNode }) => (
  <fieldset className="grid grid-cols-[52px_minmax(0,1fr)] items-start gap-x-3">
    <legend className="sr-only">{title}</legend>
    <span aria-hidden="true" className="pt-1.5 font-semibold">
      {title}
    </span>
    <div className="min-w-0 space-y-1.5">{children}</div>
  </fieldset>
);

/** What it waits for, narrowed as far as one likes. */
function WhenRow({
  when,
  choices,
  line,
  onChange,
}: {
  when: Rule["when"];
  choices: RulesData["choices"];
  line: RulesData["choices"]["workflows"];
  onChange(when: Rule["when"]): void;
}) {
  const narrow = (key: keyof Rule["when"], value: string) => {
    const { [key]: _, ...rest } = when;
    onChange((value === "" ? rest : { ...rest, [key]: value }) as Rule["when"]);
  };
  const some = {
    state: [...new Map(line.flatMap((one) => one.states).map((one) => [one.key, one])).values()],
    field: choices.fields,
    workflow: choices.workflows,
    section: choices.sections,
    kind: choices.kinds,
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5 text-13">
      <Select
        aria-label="When"
        value={when.event}
        onChoose={(event) => {
          const { state, field, workflow, ...rest } = when;
          const next = event as RuleEvent;
          onChange({ ...rest, ...(workflow && !isComing(next) && { workflow }), event: next });
        }}
        className="w-auto!"
      >
        {RULE_EVENTS.map((event) => (
          <Option key={event} value={event}>
            {EVENT_WORDS[event]}
          </Option>
        ))}
      </Select>
      {NARROWINGS.filter(({ key, of }) =>
        key === "workflow" ? !isComing(when.event) : of === undefined || of === when.event,
      ).map(({ key, label, none }) => (
        <Among
          key={key}
          label={label}
          none={none}
          value={when[key]}
          some={some[key]}
          onChoose={(to) => narrow(key, to)}
        />
      ))}
    </div>
  );
}

/** By what one may narrow what a rule waits for; some of it only for one event. */
const NARROWINGS: { key: keyof Omit<Rule["when"], "event">; label: string; none: string; of?: RuleEvent }[] = [
  { key: "state", label: "in which stop", none: "in any stop", of: "piece.arrived" },
  { key: "field", label: "in which field", none: "in any field", of: "piece.changed" },
  { key: "workflow", label: "on which line", none: "on any line" },
  { key: "section", label: "in which section", none: "in any section" },
  { key: "kind", label: "of which kind", none: "of any kind" },
];
