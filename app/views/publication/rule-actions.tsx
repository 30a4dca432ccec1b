import { Button } from "#app/ui/button.tsx";
import { Input } from "#app/ui/field.tsx";
import { Option, OptionGroup, Select } from "#app/ui/select.tsx";
import { type Action, canDo, type RuleEvent } from "#core/rules/document.ts";
import type { RuleChoices } from "#core/rules/names.ts";
import { Among } from "./among.tsx";

type Do = Action["do"];

const DO_WORDS: Record<Do, string> = {
  notify: "tell",
  assign: "give it to",
  due: "have it due",
  set: "set its",
  comment: "comment",
  take: "take the step",
  call: "call",
};

const EMPTY: Record<Do, Action> = {
  notify: { do: "notify", to: ["author"], text: "" },
  assign: { do: "assign", to: "author" },
  due: { do: "due", in: "1wd" },
  set: { do: "set", field: "", to: "" },
  comment: { do: "comment", text: "" },
  take: { do: "take", transition: "" },
  call: { do: "call", url: "" },
};

/** What an act begins as. */
export const emptyAction = (what: Do): Action => EMPTY[what];

const UNITS = [
  ["wh", "working hours"],
  ["wd", "working days"],
  ["h", "hours"],
  ["d", "days"],
] as const;

interface Props {
  at: number;
  action: Action;
  /** What the rule waits for: not everything can be done to everything. */
  event: RuleEvent;
  choices: RuleChoices;
  /** The workflows the rule may be about. */
  line: RuleChoices["workflows"];
  onChange(action: Action): void;
  onRemove?: (() => void) | undefined;
}

/** One thing that is done. */
export function ActionRow({ at, action, event, onChange, onRemove, ...rest }: Props) {
  return (
    <div id={`act-${at}`} className="flex flex-wrap items-center gap-1.5 text-13">
      <Select
        aria-label={`What is done, ${at}`}
        value={action.do}
        onChoose={(next) => onChange(EMPTY[next as Do])}
        className="w-auto!"
      >
        {(Object.keys(DO_WORDS) as Do[])
          .filter((one) => canDo(event, one) || one === action.do)
          .map((one) => (
            <Option key={one} value={one}>
              {DO_WORDS[one]}
            </Option>
          ))}
      </Select>
      <Details at={at} action={action} onChange={onChange} {...rest} />
      {onRemove && (
        <Button look="word" type="button" aria-label={`without it: act ${at}`} onClick={onRemove}>
          without it
        </Button>
      )}
    </div>
  );
}

function Details({ at, action, choices, line, onChange }: Omit<Props, "onRemove" | "event">) {
  switch (action.do) {
    case "notify":
      return (
        <>
          <Somebody
            label={`Whom, ${at}`}
            value={action.to[0] ?? "author"}
            choices={choices}
            onChoose={(to) => onChange({ ...action, to: [to, ...action.to.slice(1)] })}
          />
          {action.to.length > 1 && `and ${action.to.length - 1} more`}
          <Words
            label={`In these words, ${at}`}
            value={action.text}
            onChange={(text) => onChange({ ...action, text })}
          />
        </>
      );
    case "assign":
      return (
        <Somebody
          label={`Whom, ${at}`}
          value={action.to}
          choices={choices}
          leastBusy
          onChoose={(to) => onChange({ ...action, to })}
        />
      );
    case "due": {
      const [, number = "1", unit = "wd"] = /^([\d.]*)(\D+)$/.exec(action.in) ?? [];
      return (
        <>
          <Input
            look="small"
            aria-label={`How many, ${at}`}
            type="number"
            min={1}
            max={500}
            value={number}
            onChange={(event) => onChange({ ...action, in: `${event.target.value}${unit}` })}
            className="w-20!"
          />
          <Select
            aria-label={`Of what, ${at}`}
            value={unit}
            onChoose={(next) => onChange({ ...action, in: `${number}${next}` })}
            className="w-auto!"
          >
            {UNITS.map(([key, name]) => (
              <Option key={key} value={key}>
                {name}
              </Option>
            ))}
          </Select>
          later
        </>
      );
    }
    case "set":
      return (
        <>
          <Among
            label={`Which field, ${at}`}
            value={action.field}
            some={choices.fields}
            onChoose={(field) => onChange({ ...action, field })}
          />
          to
          <Words label={`To what, ${at}`} value={String(action.to)} onChange={(to) => onChange({ ...action, to })} />
        </>
      );
    case "comment":
      return (
        <Words label={`In these words, ${at}`} value={action.text} onChange={(text) => onChange({ ...action, text })} />
      );
    case "take":
      return (
        <Among
          label={`Which step, ${at}`}
          value={action.transition}
          some={[...new Map(line.flatMap((one) => one.transitions).map((one) => [one.key, one])).values()]}
          onChoose={(transition) => onChange({ ...action, transition })}
        />
      );
    case "call":
      return (
        <Words
          label={`At which address, ${at}`}
          value={action.url}
          placeholder="https://"
          onChange={(url) => onChange({ ...action, url })}
        />
      );
  }
}

const Words = ({
  label,
  value,
  placeholder = "in these words",
  onChange,
}: {
  label: string;
  value: string;
  placeholder?: string;
  onChange(value: string): void;
}) => (
  <Input
    look="small"
    aria-label={label}
    maxLength={2_000}
    placeholder={placeholder}
    value={value}
    onChange={(event) => onChange(event.target.value)}
    className="min-w-60! flex-1"
  />
);

/** Who is meant. */
function Somebody({
  label,
  value,
  choices: { roles, people },
  leastBusy = false,
  onChoose,
}: {
  label: string;
  value: string;
  choices: RuleChoices;
  leastBusy?: boolean;
  onChoose(value: string): void;
}) {
  return (
    <Select aria-label={label} value={value} onChoose={onChoose} className="w-auto!">
      <Option value="author">its author</Option>
      <Option value="assignee">whoever has it</Option>
      <OptionGroup label="Everyone with a role">
        {roles.map((one) => (
          <Option key={one.key} value={`role:${one.key}`}>
            {one.name}
          </Option>
        ))}
      </OptionGroup>
      {leastBusy && (
        <OptionGroup label="The least busy with a role">
          {roles.map((one) => (
            <Option key={one.key} value={`least-busy:${one.key}`}>
              {`least busy: ${one.name}`}
            </Option>
          ))}
        </OptionGroup>
      )}
      <OptionGroup label="Somebody">
        {people.map((one) => (
          <Option key={one.key} value={`person:${one.key}`}>
            {one.name}
          </Option>
        ))}
      </OptionGroup>
    </Select>
  );
}
