import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, FieldSet, TextField } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Option, OptionGroup, SelectField } from "#app/ui/select.tsx";
import { Choices } from "#app/views/lists/telling.tsx";
import { PIECE_TOPICS, type PieceTopic } from "#core/telling/choices.ts";
import { capital } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/publication-telling.ts";

type Data = Route.ComponentProps["loaderData"];

/** How people are told who chose nothing, and what did not leave. */
export function MessagesView({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  return (
    <Page
      title="Messages"
      about="How people are told who chose nothing themselves. Their own choice counts before this."
    >
      <Choices own={null} publication={page.telling} routes={["mail"]} answer={answer} inherits={false} />
      <Channels page={page} answer={answer} />
      <Part title="What did not leave">
        {page.stuck.length === 0 ? (
          <Aside>Everything has left that was to leave.</Aside>
        ) : (
          <Rows aria-label="What did not leave">
            {page.stuck.map((one) => (
              <Stuck key={one.id} message={one} answer={answer} />
            ))}
          </Rows>
        )}
      </Part>
    </Page>
  );
}

/** Chat channels that hear of a section or a workflow, whoever reads them. */
function Channels({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  const busy = useBusy("channel");
  return (
    <Part title="Chat channels" about="what a section or a workflow is told of, for all who read there">
      {page.channels.length === 0 && (
        <Aside className="mt-2">None yet. Each hears of the pieces of one section, or of one workflow.</Aside>
      )}
      <Rows className="" aria-label="Chat channels">
        {page.channels.map((one) => (
          <Row key={one.id} className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 py-1.5 text-13">
            <span className="min-w-0">
              <b className="font-semibold">{one.name}</b>
              <span className="text-rail">
                {" "}
                · to {one.host} · {one.topics.map((topic) => CHANNEL_TOPICS[topic]).join(", ")}
              </span>
            </span>
            <ActionForm
              intent="channel-gone"
              label={`Channel of ${one.name}`}
              answer={answer}
              sends={{ channelId: one.id }}
              className="contents"
            >
              <Button look="word" aria-label={`Take the channel of ${one.name} away`}>
                Take the channel away
              </Button>
            </ActionForm>
          </Row>
        ))}
      </Rows>
      <Fold summary="Name a chat channel" className="mt-2" open={answer?.intent === "channel" && isAmiss(answer)}>
        <ActionForm
          intent="channel"
          label="A chat channel"
          answer={answer}
          empties
          className="mt-2 max-w-120 space-y-3"
        >
          <SelectField label="It hears of" name="of" defaultValue="">
            <Option value="">choose</Option>
            <OptionGroup label="Sections">
              {page.heard.section.map(({ id, name }) => (
                <Option key={id} value={`section ${id}`}>
                  {name}
                </Option>
              ))}
            </OptionGroup>
            <OptionGroup label="Workflows">
              {page.heard.workflow.map(({ id, name }) => (
                <Option key={id} value={`workflow ${id}`}>
                  {name}
                </Option>
              ))}
            </OptionGroup>
          </SelectField>
          <FieldSet legend="Of what" name="topics">
            {PIECE_TOPICS.map((topic) => (
              <Checkbox key={topic} name="topics[]" value={topic} defaultChecked={topic === "mend" || topic === "know"}>
                {capital(CHANNEL_TOPICS[topic])}
              </Checkbox>
            ))}
          </FieldSet>
          <TextField
            label="The address of its incoming webhook"
            name="address"
            type="url"
            autoComplete="off"
            placeholder="https://"
            hint={
              page.standIn
                ? `In the demo ${page.standIn} stands in for one.`
                : "Kept enciphered. Whoever reads there hears of these pieces, whatever their role here."
            }
          />
          <Button busy={busy}>Name it</Button>
        </ActionForm>
      </Fold>
    </Part>
  );
}

const isAmiss = ({ refusal, fields }: FormAnswer) => refusal !== null || Object.keys(fields).length > 0;

/** What a topic is to those it does not ask anything of. */
const CHANNEL_TOPICS: Record<PieceTopic, string> = {
  decide: "decisions that are asked",
  mend: "what is stuck, held or late",
  work: "work that comes to somebody, or comes back",
  remarks: "remarks",
  look: "dates and hands that change",
  know: "steps taken, what left for readers",
};

function Stuck({ message, answer }: { message: Data["stuck"][number]; answer: FormAnswer | null }) {
  const busy = useBusy("again");
  const { id, route, person, recipient, title, status, attempts, reason } = message;
  return (
    <Row className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 py-1.5 text-13">
      <span className="min-w-0">
        <b className="font-semibold">{person ?? recipient}</b>
        <span className="text-rail">
          {" "}
          · {route === "mail" ? "mail" : "channel"}
          {title && ` · ${title}`}
        </span>
        <span className="block break-words text-red">
          {status === "given-up" ? "Given up" : "Not yet"} after {attempts} attempt{attempts === 1 ? "" : "s"}: {reason}
        </span>
      </span>
      <ActionForm
        intent="again"
        label={`Send to ${person ?? recipient}`}
        answer={answer}
        sends={{ messageId: id }}
        className="contents"
      >
        <Button busy={busy} aria-label={`Try again for ${person ?? recipient}`}>
          Try again
        </Button>
      </ActionForm>
    </Row>
  );
}
