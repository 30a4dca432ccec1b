import type { ComponentProps } from "react";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, Field, Input, TextField } from "#app/ui/field.tsx";
import { Aside, Hint, Message, Status } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import {
  HOW_WORDS,
  HOWS,
  howTold,
  ROUTES,
  type Route,
  type TellingChoices,
  TOPIC_WORDS,
  TOPICS,
} from "#core/telling/choices.ts";
import type { Route as Here } from "../../routes/+types/notices-how.ts";
import { CalendarFile } from "./calendar-file.tsx";

const ROUTE_WORDS: Record<Route, string> = { mail: "By mail", chat: "In your channel" };

type Data = Here.ComponentProps["loaderData"];

/** How one is told, of what, when not; one's channel, and one's calendar file. */
export function HowView({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  const { own, publication, chat } = page.telling;
  return (
    <Page
      wide={false}
      back={{ to: "/notices", name: "Notices" }}
      title="How you are told"
      about="In the application you are told of everything that concerns you, at once. Here you choose what reaches you besides. Nobody is told of what they did themselves."
    >
      <Choices
        own={own}
        publication={publication}
        routes={ROUTES}
        chat={chat}
        standIn={page.standIn}
        answer={answer}
        inherits
      />
      <CalendarFile
        title="Your calendar file"
        about="When what waits on you is due, and when what you may see leaves for readers, in any calendar that reads iCalendar."
        address={page.calendar}
        answer={answer}
      />
    </Page>
  );
}

/** The choices of somebody, or of a publication for all who choose nothing. */
export function Choices({
  own,
  publication,
  routes,
  chat,
  standIn = null,
  answer,
  inherits,
}: {
  own: TellingChoices | null;
  publication: TellingChoices;
  routes: readonly Route[];
  /** Where one's channel leads; null for none. Left out where there is nobody whose it would be. */
  chat?: string | null;
  standIn?: string | null;
  answer: FormAnswer | null;
  /** Whether what is not chosen is as the publication has it. */
  inherits: boolean;
}) {
  const busy = useBusy("telling");
  const errors = fieldErrors(answer, "telling");
  const done = answer?.intent === "telling" && !answer.refusal && Object.keys(answer.fields).length === 0;
  const shown = own ?? publication;
  return (
    <ActionForm intent="telling" label="How to be told" answer={answer} className="mt-5 space-y-6">
      <table className="w-full max-w-160 text-13">
        <thead>
          <tr className="border-b border-ink text-left max-sm:sr-only">
            <th scope="col" className="py-1 pr-4 font-semibold">
              Of what
            </th>
            {routes.map((route) => (
              <th key={route} scope="col" className="w-40 py-1 pr-2 font-semibold">
                {ROUTE_WORDS[route]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {TOPICS.map((topic) => (
            <tr key={topic} className="border-b border-rule align-top max-sm:grid max-sm:grid-cols-2 max-sm:gap-x-2">
              <th scope="row" className="py-2 pr-4 text-left font-normal max-sm:col-span-2 max-sm:pb-0">
                {TOPIC_WORDS[topic].name}
                <span className="block text-12 text-rail">{TOPIC_WORDS[topic].about}</span>
              </th>
              {routes.map((route) => (
                <td key={route} className="min-w-0 py-1.5 pr-2">
                  <span className="text-12 text-rail sm:hidden">{ROUTE_WORDS[route]}</span>
                  <Select
                    name={`${route}.${topic}`}
                    aria-label={`${TOPIC_WORDS[topic].name}: ${ROUTE_WORDS[route]}`}
                    defaultValue={(inherits ? own?.[route][topic] : howTold(topic, route, null, publication)) ?? ""}
                    className="w-full"
                  >
                    {inherits && (
                      <Option value="">{`as everybody: ${HOW_WORDS[howTold(topic, route, null, publication)]}`}</Option>
                    )}
                    {HOWS.map((how) => (
                      <Option key={how} value={how}>
                        {HOW_WORDS[how]}
                      </Option>
                    ))}
                  </Select>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {errors["mail.decide"] && <Message>{errors["mail.decide"]}</Message>}
      <div className="flex flex-wrap gap-x-8 gap-y-3">
        <Field label="What goes once a day goes at" name="digestAt">
          {(tied) => <Clock name="digestAt" at={shown.digestAt} {...tied} />}
        </Field>
        <Field label="Nothing goes from" name="quietFrom" hint="Quiet hours; empty for none.">
          {(tied) => <Clock name="quietFrom" at={shown.quiet?.from ?? ""} {...tied} />}
        </Field>
        <Field label="until" name="quietUntil">
          {(tied) => <Clock name="quietUntil" at={shown.quiet?.until ?? ""} {...tied} />}
        </Field>
      </div>
      {chat !== undefined && (
        <div className="max-w-120 space-y-1">
          {chat && <Aside>Messages go to a channel at {chat}.</Aside>}
          <TextField
            key={chat}
            label={`${chat ? "Another" : "Your"} channel: the address of its incoming webhook`}
            name="chat"
            type="url"
            autoComplete="off"
            placeholder="https://"
            hint={
              standIn
                ? `In the demo ${standIn} stands in for one.`
                : "Whoever knows the address may write there; it is kept enciphered."
            }
          />
          {chat && (
            <Checkbox name="noChat" value="true">
              Take the channel away
            </Checkbox>
          )}
        </div>
      )}
      {inherits && <Hint>Days you are away nothing goes; on the first day back you hear of all of it together.</Hint>}
      <p className="flex items-center gap-4">
        <Button look="go" busy={busy}>
          Keep it so
        </Button>
        {done && <Status>It is kept.</Status>}
      </p>
    </ActionForm>
  );
}

/** A time of day, as the product says it whatever the browser's language. */
const Clock = ({ at, ...rest }: ComponentProps<typeof Input> & { at: string }) => (
  <Input look="small" autoComplete="off" placeholder="08:00" defaultValue={at} className="w-20!" {...rest} />
);
