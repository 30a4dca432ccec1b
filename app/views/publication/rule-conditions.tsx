import { Button } from "#app/ui/button.tsx";
import { Input } from "#app/ui/field.tsx";
import { Option, OptionGroup, Select } from "#app/ui/select.tsx";
import { type Condition, TESTS } from "#core/rules/document.ts";
import type { Named } from "#core/rules/names.ts";

/** What a condition begins as. */
export const emptyCondition = (): Condition => ({ fact: "urgency", is: "urgent" });

type Test = (typeof TESTS)[number];

const TEST_WORDS: Record<Test, string> = {
  is: "is",
  "is-not": "is not",
  over: "is over",
  under: "is under",
  empty: "is empty",
  filled: "is filled",
};

const testOf = (condition: Condition): Test => TESTS.find((test) => condition[test] !== undefined) ?? "is";

/** What may be asked of each: a number of words is counted, an urgency is one of two. */
function testsOf({ fact }: Condition): readonly Test[] {
  if (fact === "words") return ["over", "under", "is", "is-not"];
  return fact === "urgency" ? ["is", "is-not"] : TESTS;
}

function asked(condition: Pick<Condition, "fact" | "field">, test: Test, value: string): Condition {
  const { fact, field } = condition;
  const about = fact ? { fact } : { field };
  if (test === "empty" || test === "filled") return { ...about, [test]: true };
  const counted = test === "over" || test === "under" || fact === "words";
  return { ...about, [test]: counted ? Number(value || 0) : value };
}

/** One thing that must hold. */
export function ConditionRow({
  at,
  condition,
  fields,
  onChange,
  onRemove,
}: {
  at: number;
  condition: Condition;
  fields: readonly Named[];
  onChange(condition: Condition): void;
  onRemove(): void;
}) {
  const test = testOf(condition);
  const value = String(condition[test] ?? "");
  const { fact, field } = condition;
  const begin = (chosen: string) => {
    const [sort, key = ""] = chosen.split(" ");
    if (sort === "field") return onChange(asked({ field: key }, "is", ""));
    onChange(key === "words" ? { fact: "words", over: 100 } : emptyCondition());
  };
  return (
    <div id={`condition-${at}`} className="flex flex-wrap items-center gap-1.5 text-13">
      its
      <Select
        aria-label={`What, condition ${at}`}
        value={fact ? `fact ${fact}` : `field ${field}`}
        onChoose={begin}
        className="w-auto!"
      >
        <Option value="fact urgency">urgency</Option>
        <Option value="fact words">number of words</Option>
        <OptionGroup label="Fields">
          {fields.map((one) => (
            <Option key={one.key} value={`field ${one.key}`}>
              {one.name}
            </Option>
          ))}
        </OptionGroup>
      </Select>
      <Select
        aria-label={`How it is, condition ${at}`}
        value={test}
        onChoose={(next) => onChange(asked(condition, next as Test, value === "true" ? "" : value))}
        className="w-auto!"
      >
        {testsOf(condition).map((one) => (
          <Option key={one} value={one}>
            {TEST_WORDS[one]}
          </Option>
        ))}
      </Select>
      {fact === "urgency" ? (
        <Select
          aria-label={`Which, condition ${at}`}
          value={value}
          onChoose={(next) => onChange(asked(condition, test, next))}
          className="w-auto!"
        >
          <Option value="urgent">urgent</Option>
          <Option value="normal">normal</Option>
        </Select>
      ) : (
        test !== "empty" &&
        test !== "filled" && (
          <Input
            look="small"
            aria-label={`What it is compared with, condition ${at}`}
            type={test === "over" || test === "under" || fact === "words" ? "number" : "text"}
            maxLength={500}
            value={value}
            onChange={(event) => onChange(asked(condition, test, event.target.value))}
            className="w-40!"
          />
        )
      )}
      <Button look="word" type="button" aria-label={`without it: condition ${at}`} onClick={onRemove}>
        without it
      </Button>
    </div>
  );
}
