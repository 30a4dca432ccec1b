import { type ReactNode, useState } from "react";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { useBegun } from "#app/ui/begun.ts";
import { Button, TextLink } from "#app/ui/button.tsx";
import { Combobox } from "#app/ui/combobox.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Field, Hidden, TextArea, TextField } from "#app/ui/field.tsx";
import { NamedField } from "#app/ui/select.tsx";
import { type Found, useFound } from "#app/views/frame/found.ts";
import { WriterField } from "#app/views/piece/writer-field.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import { type Chosen, type IntakeAnswer, type IntakeData, useWith } from "./data.ts";

export type ActName = "take" | "answer" | "ask" | "join" | "give" | "amend" | "decline";

interface Props {
  item: Chosen;
  page: IntakeData;
  answer: IntakeAnswer;
}

/** The form of one act; it is begun as it opens, and Esc leaves it. */
export function Act({ name, next, ...props }: Props & { name: ActName; next: string }) {
  const place = useBegun<HTMLElement>(name);
  const busy = useBusy(name);
  const to = useWith();
  const { item, answer } = props;
  const { title, button, Fields } = FORMS[name];
  const setsAside = name === "decline" && item.sort === "idea";
  return (
    <section
      ref={place}
      aria-label={setsAside ? "Set it aside" : title}
      className="border-y border-ink bg-paper px-3 py-3"
    >
      <ActionForm intent={name} answer={answer} sends={{ itemId: item.id, revision: item.revision, next }}>
        <Fields {...props} />
        <div className="flex items-center gap-4">
          <Button look="go" busy={busy}>
            {setsAside ? "Set it aside" : button}
          </Button>
          <TextLink data-back to={to({ do: "" })} preventScrollReset className="text-13">
            Leave
          </TextLink>
        </div>
      </ActionForm>
    </section>
  );
}

const FORMS: Record<ActName, { title: string; button: string; Fields(props: Props): ReactNode }> = {
  take: { title: "Take it up", button: "Begin the piece", Fields: Taking },
  answer: {
    title: "Answer",
    button: "Answer",
    Fields: () => <TextArea label="Your answer" name="words" rows={5} required maxLength={4000} />,
  },
  ask: {
    title: "Ask back",
    button: "Ask",
    Fields: () => <TextArea label="What do you ask?" name="question" rows={4} required maxLength={4000} />,
  },
  join: { title: "Join to a piece", button: "Join it", Fields: Joining },
  give: {
    title: "Give to",
    button: "Give it",
    Fields: ({ item }) => (
      <NamedField
        label="Who sees to it"
        name="personId"
        none="Choose"
        options={item.choices.people}
        defaultValue={item.holderId ?? ""}
      />
    ),
  },
  amend: {
    title: "Call it otherwise",
    button: "Call it so",
    Fields: ({ item }) => <TextField label="Title" name="title" required maxLength={200} defaultValue={item.title} />,
  },
  decline: {
    title: "Decline",
    button: "Decline it",
    Fields: ({ item }) => (
      <TextField
        label="Why"
        name="reason"
        required
        maxLength={1000}
        suggests={item.choices.reasons}
        hint={item.requesterId ? "Whoever sent it is told in these words." : "It can be looked up later."}
      />
    ),
  },
};

/** Where it goes, who writes it, by when, and what they are told. */
function Taking({ item }: Props) {
  const { zone } = useClock();
  const { kinds, sections, writers } = item.choices;
  const [writer, setWriter] = useState("");
  const only = (all: readonly { id: string }[]) => (all.length === 1 ? (all[0]?.id ?? "") : "");
  return (
    <>
      <TextField label="Title" name="title" required maxLength={200} defaultValue={item.title} />
      <div className="grid gap-3 sm:grid-cols-2">
        <NamedField
          label="Kind"
          name="kindId"
          none="Choose"
          options={kinds}
          defaultValue={item.kindId ?? only(kinds)}
        />
        <NamedField
          label="Section"
          name="sectionId"
          none="Choose"
          options={sections}
          defaultValue={item.sectionId ?? only(sections)}
        />
      </div>
      {writers.length > 0 && <WriterField writers={writers} value={writer} onChoose={setWriter} />}
      <MomentField
        label="Wished for; empty for no date"
        name="publishAt"
        defaultValue={item.wishedAt === null ? "" : toLocalInput(item.wishedAt, zone)}
      />
      <TextArea label="The brief" name="brief" rows={4} maxLength={4000} defaultValue={item.brief} />
    </>
  );
}

/** Which piece it goes into, by words of its title. */
function Joining(_: Props) {
  const [words, setWords] = useState<string | null>(null);
  const [chosen, setChosen] = useState<Found | null>(null);
  const { found, settled } = useFound(words?.trim() ? words : null);
  return (
    <Field label="Which piece" name="slug">
      {(tied) => (
        <>
          <Hidden name="slug" value={chosen?.slug ?? ""} />
          <Combobox<Found>
            {...tied}
            placeholder="Words of its title"
            chosen={chosen?.name ?? ""}
            suggestions={found.filter((one) => one.slug !== null)}
            settled={settled}
            none="No piece you may see has these words."
            onType={setWords}
            onChoose={setChosen}
          />
        </>
      )}
    </Field>
  );
}
