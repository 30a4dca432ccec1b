import { Link } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { PickInput } from "#app/ui/combobox.tsx";
import { MomentInput } from "#app/ui/date-field.tsx";
import { Hidden, Input } from "#app/ui/field.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import type { Route } from "../../routes/+types/together-bundle.ts";

type Data = Route.ComponentProps["loaderData"];

/** A row a piece, each with its own step, person, date and note; what is left without a step stays where it is. */
export function EachItsOwn({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  const busy = useBusy("fill");
  const errors = fieldErrors(answer, "fill");
  const people = Object.entries(page.people).map(([key, name]) => ({ key, name }));
  return (
    <ActionForm intent="fill" label="To each its own" answer={answer} className="mt-4 space-y-3">
      <ul className="border-t border-ink">
        {page.items.map((item) => (
          <EachRow key={item.position} item={item} people={people} errors={errors} />
        ))}
      </ul>
      <p className="text-13 text-rail">
        Where the sender chooses who reviews, name somebody. Without a date it is due as the workflow says.
      </p>
      <Button look={page.counts.would > 0 ? "plain" : "go"} busy={busy}>
        Show what would happen
      </Button>
    </ActionForm>
  );
}

function EachRow({
  item: { position, slug, title, stop, steps, doing },
  people,
  errors,
}: {
  item: Data["items"][number];
  people: readonly { key: string; name: string }[];
  errors: Readonly<Record<string, string>>;
}) {
  const { zone } = useClock();
  const said = doing?.do === "send" ? doing : null;
  const amiss = ["step", "personId", "at", "note"].flatMap((name) => errors[`${name}.${position}`] ?? []);
  return (
    <li
      data-row
      className="grid items-center gap-x-3 gap-y-1 border-b border-rule py-1.5 text-13 focus-within:bg-wash md:grid-cols-[minmax(0,1fr)_180px_150px_170px_minmax(0,180px)]"
    >
      <Hidden name="position" value={position} />
      <span className="min-w-0">
        <Link to={`/pieces/${slug}`} className="block truncate font-semibold hover:text-blue">
          {title}
        </Link>
        <span className="text-rail">{stop}</span>
      </span>
      <Select
        name={`step.${position}`}
        aria-label={`Step of ${title}`}
        defaultValue={said?.step ?? ""}
        className="w-full"
      >
        <Option value="">{steps.length > 0 ? "stays" : "nothing to take"}</Option>
        {steps.map((step) => (
          <Option key={step} value={step}>
            {step}
          </Option>
        ))}
      </Select>
      <PickInput
        name={`personId.${position}`}
        aria-label={`To whom goes ${title}`}
        look="small"
        choices={people}
        defaultValue={said?.personId ?? ""}
        placeholder="whom"
      />
      <MomentInput
        name={`at.${position}`}
        aria-label={`When ${title} is due`}
        look="small"
        defaultValue={said?.at ? toLocalInput(said.at, zone) : ""}
      />
      <Input
        look="small"
        name={`note.${position}`}
        aria-label={`A note with ${title}`}
        placeholder="a note"
        maxLength={4000}
        defaultValue={said?.note ?? ""}
        className="w-full"
      />
      {amiss.length > 0 && <p className="font-semibold text-red md:col-span-5">{amiss.join(" ")}</p>}
    </li>
  );
}
