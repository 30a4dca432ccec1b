import { Link, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, TextLink } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Aside, Empty } from "#app/ui/message.tsx";
import { Page, PanelHead, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { sayRhythm } from "#core/release/rhythm.ts";
import { counted } from "#core/words/say.ts";
import type { editionsList } from "#server/editions/queries.ts";

type Channel = Awaited<ReturnType<typeof editionsList>>[number];

/** The editions of every channel that gathers any: those being filled, the next first, and those that left. */
export function EditionsView({
  channels,
  mayMake,
  answer,
}: {
  channels: readonly Channel[];
  mayMake: boolean;
  answer: FormAnswer | null;
}) {
  return (
    <Page title="Editions" about="What leaves together: filled, put in order, signed off, and out at one time.">
      {channels.length === 0 ? (
        <Empty act={mayMake && <TextLink to="/publication/channels?channel=">Make such a channel</TextLink>}>
          No channel gathers editions. One that does makes them ahead of time, by its own rhythm.
        </Empty>
      ) : (
        channels.map((channel) => <OfChannel key={channel.key} channel={channel} answer={answer} />)
      )}
    </Page>
  );
}

function OfChannel({ channel, answer }: { channel: Channel; answer: FormAnswer | null }) {
  const [words] = useSearchParams();
  const { key, name, rhythm, makes, ahead, past } = channel;
  return (
    <Part
      title={name}
      aria-label={name}
      about={channel.retired ? "given up" : rhythm ? sayRhythm(rhythm) : "whenever one is made"}
      className="mt-7 max-w-260"
    >
      {ahead.length === 0 && !channel.retired && <Aside className="mt-2">Nothing is being filled.</Aside>}
      <Listed rows={ahead} channel={channel} />
      {makes &&
        (words.get("make") === key ? (
          <Make channel={channel} answer={answer} />
        ) : (
          <p className="mt-2">
            <ButtonLink look="quiet" to={`?make=${key}`} preventScrollReset>
              One more, at a date of its own
            </ButtonLink>
          </p>
        ))}
      {past.length > 0 && (
        <>
          <h3 className="mt-4 border-b border-rule pb-1 text-13 font-semibold">As they went out</h3>
          <Listed rows={past} channel={channel} />
        </>
      )}
    </Part>
  );
}

const Listed = ({ rows, channel }: { rows: Channel["ahead"]; channel: Channel }) => (
  <Rows className="" aria-label={`Editions of ${channel.name}`}>
    {rows.map((row) => (
      <Row
        key={row.id}
        className="grid grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-4 py-1.5 sm:grid-cols-[180px_minmax(0,1fr)_minmax(0,1fr)]"
      >
        <Link to={`/editions/${channel.key}/${row.number}`} className="truncate font-semibold hover:text-blue">
          {row.name}
        </Link>
        <span className="text-13">
          {row.status === "released" ? "left " : row.status === "held" ? "held since " : "leaves "}
          <When at={row.releasedAt ?? row.at} />
        </span>
        <span className={`text-13 max-sm:col-span-2 ${row.held ? "font-semibold text-red" : "text-rail"}`}>
          <Standing row={row} />
        </span>
      </Row>
    ))}
  </Rows>
);

function Standing({ row }: { row: Channel["ahead"][number] }) {
  const { now } = useClock();
  if (row.status === "released") return counted(row.all, "piece");
  if (row.held) return row.status === "held" ? "held: open it to see why" : "something stands in its way";
  if (row.status === "signed") return "signed off";
  if (row.all === 0) return "empty";
  if (row.items < row.all) return `${counted(row.all, "piece")}, ${row.items} of them yours to see`;
  return (
    <>
      {row.ready} of {row.items} ready
      {row.closesAt > now && (
        <>
          {" · closes "}
          <When at={row.closesAt} />
        </>
      )}
      {row.closesAt <= now && " · closed"}
    </>
  );
}

function Make({ channel, answer }: { channel: Channel; answer: FormAnswer | null }) {
  const { zone } = useClock();
  const busy = useBusy("make");
  return (
    <div className="mt-3 max-w-100">
      <PanelHead title={`One more of ${channel.name}`} leave="/editions" />
      <ActionForm intent="make" answer={answer} sends={{ channel: channel.key }}>
        <MomentField label={`Leaves (${zone})`} name="at" required />
        <Button look="go" busy={busy}>
          Create edition
        </Button>
      </ActionForm>
    </div>
  );
}
