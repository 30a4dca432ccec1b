import type { ReactNode } from "react";
import { useSearchParams } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { useBegun } from "#app/ui/begun.ts";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, FieldSet, TextArea, TextField } from "#app/ui/field.tsx";
import { Aside } from "#app/ui/message.tsx";
import { PanelHead } from "#app/ui/page.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import type { EditionProps } from "./data.ts";

/** The form of what one is about to do with an edition, named in the address. */
export function EditionPanel({ doing, ...props }: EditionProps & { doing: string }) {
  const { page } = props;
  if (page.status === "released") return null;
  if (doing === "reopen" && page.reopens) return <Reopening {...props} />;
  if (!page.sees) return null;
  if (doing === "date") return <Dating {...props} />;
  if (doing === "drop") return <Dropping {...props} />;
  if (doing === "add" && !page.locked) return <Choosing {...props} />;
  return null;
}

function Panel({
  title,
  intent,
  page,
  answer,
  formKey,
  children,
}: EditionProps & { title: string; intent: string; children: ReactNode }) {
  const [words] = useSearchParams();
  const place = useBegun<HTMLElement>(words.get("do") ?? "");
  return (
    <section ref={place} aria-label={title} className="mt-4 max-w-160 border-y border-ink bg-paper px-4 py-4">
      <PanelHead title={title} leave={`/editions/${page.channel.key}/${page.number}`} />
      <ActionForm
        intent={intent}
        answer={answer}
        sends={{ editionId: page.id, ...(intent !== "fill" && { revision: page.revision }), formKey }}
      >
        {children}
      </ActionForm>
    </section>
  );
}

/** What belongs in and could come, each with its standing; what is ready is chosen already. */
function Choosing(props: EditionProps) {
  const { page, answer } = props;
  const busy = useBusy("fill");
  const elsewhere = answer?.intent === "fill" && answer.refusal?.code === "elsewhere";
  return (
    <Panel title="Choose what comes in" intent="fill" {...props}>
      {page.coming.length === 0 ? (
        <Aside>
          Nothing else belongs into it by the rules of the channel. Any piece can be put in from its own page, by
          “Through other channels”.
        </Aside>
      ) : (
        <>
          <FieldSet legend="What belongs in" name="pieces">
            {page.coming.map((one) => (
              <Checkbox key={one.id} name="pieces[]" value={one.id} defaultChecked={one.ready}>
                {one.title}{" "}
                <span className="text-rail">
                  {one.kind}, {one.words} words, {one.ready ? "ready" : <Due at={one.dueAt} />}
                </span>
              </Checkbox>
            ))}
          </FieldSet>
          <SelectField label="Into which part" name="part" defaultValue="">
            <Option value="">where each belongs</Option>
            {page.parts.map((part) => (
              <Option key={part.key} value={part.key}>
                {part.name}
              </Option>
            ))}
          </SelectField>
          {page.closed && (
            <TextField label="It has closed. Why something still comes in" name="late" maxLength={500} required />
          )}
          {elsewhere && (
            <Checkbox name="instead" value="true">
              It is to be in this one instead
            </Checkbox>
          )}
          <Button look="go" busy={busy}>
            Put in
          </Button>
        </>
      )}
    </Panel>
  );
}

const Due = ({ at }: { at: number | null }) =>
  at === null ? (
    "no due date"
  ) : (
    <>
      due <When at={at} />
    </>
  );

function Dating(props: EditionProps) {
  const { zone } = useClock();
  const busy = useBusy("date");
  return (
    <Panel title="Move its date" intent="date" {...props}>
      <MomentField label={`Leaves (${zone})`} name="at" required defaultValue={toLocalInput(props.page.at, zone)} />
      <Aside>
        It leaves then, or when the next window of its channel opens. Pieces that were wished for with it move along.
      </Aside>
      <Button look="go" busy={busy}>
        Move it
      </Button>
    </Panel>
  );
}

function Dropping(props: EditionProps) {
  const busy = useBusy("drop");
  return (
    <Panel title={`Drop ${props.page.name}`} intent="drop" {...props}>
      <Aside>It does not leave, and its pieces are free for another.</Aside>
      <TextArea label="Why" name="note" required maxLength={4000} />
      <Button busy={busy}>Drop it</Button>
    </Panel>
  );
}

function Reopening(props: EditionProps) {
  const busy = useBusy("reopen");
  return (
    <Panel title="Open it again" intent="reopen" {...props}>
      <Aside>Every signature is taken back; what is in it and its order can be changed, and it is signed anew.</Aside>
      <TextArea label="Why" name="note" required maxLength={4000} />
      <Button look="go" busy={busy}>
        Open it again
      </Button>
    </Panel>
  );
}
