import { Button } from "#app/ui/button.tsx";
import { NumberInput } from "#app/ui/field.tsx";
import { Option, OptionGroup, Select } from "#app/ui/select.tsx";
import { sayStep } from "#app/views/workflow/line.tsx";
import type { People } from "#core/people/document.ts";
import { sayTake } from "#core/time/words.ts";
import type { Review, SeatRule, State, Workflow } from "#core/workflow/document.ts";
import type { StateChange } from "#core/workflow/editing/edit.ts";
import { Principals, sayWho } from "./principals.tsx";
import { ChoiceSetting, Group, NumberSetting, Setting, TakeSetting, YesSetting } from "./settings.tsx";

const RULES = [
  ["any", "one of them approves"],
  ["all", "all of them approve"],
  ["count", "so many approve"],
  ["in-order", "one after another"],
] as const;
const PICKS = [
  ["everyone", "everyone"],
  ["least-busy", "the least busy"],
  ["sender", "the sender picks"],
] as const;
const OUTCOME_WORDS = [
  ["approve", "Approved, it takes"],
  ["return", "Returned, it takes"],
] as const;

interface Props {
  state: State;
  review: Review;
  workflow: Workflow;
  people: People;
  locked: boolean;
  put(change: StateChange, setting?: string | null): void;
}

/** Who decides at a review, by which rule, and what their decisions lead to. */
export function ReviewSettings({ state, review, workflow, people, locked, put }: Props) {
  const set = (part: Partial<Review>, setting: string | null = null) =>
    put({ review: { ...review, ...part } }, setting);
  const steps = workflow.transitions.filter((step) => step.from.includes(state.key));
  const options = steps.map((step) => [step.key, sayStep(step, workflow.states)] as const);
  const withGone = (key: string) =>
    options.some(([known]) => known === key) ? options : [[key, "no step chosen"] as const, ...options];
  return (
    <>
      <Group title="Who decides">
        <ChoiceSetting
          label="It passes when"
          value={review.rule}
          options={RULES}
          locked={locked}
          onChange={(rule) => set({ rule, count: rule === "count" ? (review.count ?? 2) : undefined })}
        />
        {review.rule === "count" && (
          <NumberSetting
            label="Approvals asked for"
            value={review.count ?? 1}
            locked={locked}
            onChange={(count) => set({ count }, "count")}
          />
        )}
        {review.seats.map((seat, i) => (
          <Seat
            // biome-ignore lint/suspicious/noArrayIndexKey: a seat is known by its place
            key={i}
            place={i + 1}
            seat={seat}
            people={people}
            locked={locked}
            removable={review.seats.length > 1}
            onChange={(next) => set({ seats: next ? review.seats.with(i, next) : review.seats.toSpliced(i, 1) })}
          />
        ))}
        {!locked && (
          <Setting label="One seat more">
            {(id) => (
              <Select
                id={id}
                value=""
                className="max-w-52"
                onChoose={(value) => set({ seats: [...review.seats, seatFor(value)] })}
              >
                <Option value="">add …</Option>
                {whoOptions(people)}
              </Select>
            )}
          </Setting>
        )}
        <YesSetting
          label="Authors may decide on their own"
          value={review.authorMayDecide}
          locked={locked}
          onChange={(authorMayDecide) => set({ authorMayDecide })}
        />
        <YesSetting
          label="A sign-off: the text is locked, and whoever approves signs with their name"
          value={review.signed === true}
          locked={locked}
          onChange={(signed) => set({ signed: signed || undefined })}
        />
      </Group>
      <Group title="Then">
        {OUTCOME_WORDS.map(([outcome, label]) => (
          <ChoiceSetting
            key={outcome}
            label={label}
            value={review[outcome]}
            options={withGone(review[outcome])}
            locked={locked}
            onChange={(key) => set({ [outcome]: key })}
          />
        ))}
        <ChoiceSetting
          label="Declined, it takes"
          value={review.decline ?? ""}
          options={[["", "no declining here"] as const, ...withGone(review.decline ?? options[0]?.[0] ?? "")]}
          locked={locked}
          onChange={(key) => set({ decline: key || undefined })}
        />
      </Group>
      <Group title="When it takes long">
        <TakeSetting
          label="Remind before it is due"
          value={review.remind[0]}
          locked={locked}
          onChange={(take) =>
            set({ remind: take ? [take, ...review.remind.slice(1)] : review.remind.slice(1) }, "remind")
          }
        />
        {review.remind.slice(1).map((take) => (
          <p key={take} className="py-1.5 text-right text-13">
            and {sayTake(take)} before
          </p>
        ))}
        <TakeSetting
          label="Overdue after"
          value={review.overdue?.after}
          locked={locked}
          onChange={(after) =>
            set({ overdue: after ? { do: "escalate", ...review.overdue, after } : undefined }, "overdue")
          }
        />
        {review.overdue && (
          <>
            <ChoiceSetting
              label="Then"
              value={review.overdue.do}
              options={[
                ["escalate", "tell somebody"],
                ["stand-in", "the stand-in sits"],
                ["pass", "the seat passes to"],
              ]}
              locked={locked}
              onChange={(what) =>
                review.overdue &&
                set({ overdue: { ...review.overdue, do: what, ...(what === "pass" && { to: firstRole(people) }) } })
              }
            />
            {review.overdue.do !== "stand-in" && (
              <Principals
                label={review.overdue.do === "pass" ? "To the least busy of" : "Told"}
                value={review.overdue.to ? [review.overdue.to] : []}
                generic={review.overdue.do === "pass" ? [] : ["author"]}
                people={people}
                locked={locked}
                onChange={(next) =>
                  review.overdue &&
                  (next.length > 0 || review.overdue.do !== "pass") &&
                  set({ overdue: { ...review.overdue, to: next.at(-1) } })
                }
              />
            )}
          </>
        )}
      </Group>
    </>
  );
}

/** Whom a late seat passes to until somebody else is chosen: whoever may hold any, by the first role there is. */
const firstRole = ({ roles }: People) => (roles[0] ? `role:${roles[0].key}` : undefined);

function seatFor(principal: string): SeatRule {
  const name = principal.slice(principal.indexOf(":") + 1);
  return principal.startsWith("person:") ? { person: name } : { role: name, pick: "everyone" };
}

/** Everybody a seat may be for. */
function whoOptions(people: People) {
  return (
    <>
      <OptionGroup label="Roles">
        {people.roles.map((role) => (
          <Option key={role.key} value={`role:${role.key}`}>
            {role.name}
          </Option>
        ))}
      </OptionGroup>
      <OptionGroup label="People">
        {people.people
          .filter((person) => person.active)
          .map((person) => (
            <Option key={person.key} value={`person:${person.key}`}>
              {person.name}
            </Option>
          ))}
      </OptionGroup>
    </>
  );
}

function Seat({
  place,
  seat,
  people,
  locked,
  removable,
  onChange,
}: {
  place: number;
  seat: SeatRule;
  people: People;
  locked: boolean;
  removable: boolean;
  onChange(next: SeatRule | null): void;
}) {
  const principal = "person" in seat ? `person:${seat.person}` : `role:${seat.role}`;
  const known = principal.startsWith("role:")
    ? people.roles.some((role) => `role:${role.key}` === principal)
    : people.people.some((person) => person.active && `person:${person.key}` === principal);
  return (
    <fieldset className="flex items-center justify-end gap-1 py-1" disabled={locked}>
      <legend className="float-left mr-auto pr-2 text-13 text-rail">Seat {place}</legend>
      <Select
        aria-label={`Seat ${place} is for`}
        value={principal}
        className="w-32"
        onChoose={(value) => {
          const next = seatFor(value);
          onChange("role" in next && "role" in seat ? { ...seat, role: next.role } : next);
        }}
      >
        {!known && <Option value={principal}>{sayWho(principal, people)}</Option>}
        {whoOptions(people)}
      </Select>
      {"role" in seat && (
        <>
          {seat.pick !== "everyone" && (
            <NumberInput
              aria-label={`How many for seat ${place}`}
              min={1}
              max={50}
              value={seat.number ?? 1}
              onChange={(event) => {
                const number = event.target.valueAsNumber;
                if (Number.isInteger(number) && number >= 1 && number <= 50) onChange({ ...seat, number });
              }}
            />
          )}
          <Select
            aria-label={`Seat ${place} is filled by`}
            value={seat.pick}
            className="w-27"
            onChoose={(value) => {
              const pick = value as typeof seat.pick;
              onChange({ role: seat.role, pick, ...(pick === "everyone" ? {} : { number: seat.number ?? 1 }) });
            }}
          >
            {PICKS.map(([key, words]) => (
              <Option key={key} value={key}>
                {words}
              </Option>
            ))}
          </Select>
        </>
      )}
      {removable && (
        <Button
          look="bare"
          type="button"
          aria-label={`Take seat ${place} away`}
          className="px-1 text-13 text-rail hover:text-ink"
          onClick={() => onChange(null)}
        >
          ×
        </Button>
      )}
    </fieldset>
  );
}
