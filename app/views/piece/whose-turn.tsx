import { Link } from "react-router";
import { useCalendar, useClock, When } from "#app/views/time/clock.tsx";
import { sayFan } from "#core/flow/fan.ts";
import { sayRule } from "#core/review/round.ts";
import { openTime } from "#core/time/due.ts";
import { saySlack } from "#core/time/slack.ts";
import { sayDate } from "#core/time/words.ts";
import { capital } from "#core/words/say.ts";
import type { PiecePageData } from "#server/pieces/page.ts";

/** When it is likely to arrive, by how others travelled; beside the date wished for, if it has one. */
function Ahead({ page: { row, plan } }: { page: PiecePageData }) {
  const calendar = useCalendar();
  const { zone, now } = useClock();
  const { likely } = row;
  if (!likely || row.stateKind === "ready" || row.stateKind === "live") return null;
  const aim = plan?.at ?? row.publishAt;
  const late = aim !== null && likely.p50 > aim;
  return (
    <>
      {" "}
      <span className={late ? "text-red" : ""} title={capital(sayFan(likely, zone, now))}>
        Likely live {sayDate(likely.p50, zone, now)}
        {aim !== null && `, ${saySlack(calendar, openTime(calendar, likely.p50, aim))}`}.
      </span>
    </>
  );
}

/** One sentence: whose turn it is, since when, by when. */
export function Turn({ page }: { page: PiecePageData }) {
  const { row, round, decision, plan } = page;
  const { now } = useClock();
  const asked =
    round?.seats
      .filter((seat) => seat.status === "open")
      .map((seat) => (seat.for ? `${seat.person} for ${seat.for}` : seat.person)) ?? [];
  const flags = round?.seats.flatMap((seat) => (seat.flag ? [seat.flag] : [])) ?? [];
  const whose =
    decision && !decision.decided
      ? `Your turn${decision.for ? `, for ${decision.for}` : ""}`
      : asked.length > 0
        ? `${asked.join(", ")} to decide`
        : row.stateKind === "live"
          ? "Live"
          : row.stateKind === "writing"
            ? `With ${row.author}`
            : `In ${row.state}`;
  const rule = round && sayRule(round);
  return (
    <>
      <b className="font-semibold">{whose}</b> since <When at={row.since} />
      {row.dueAt && (
        <>
          ,{" "}
          <span className={row.dueAt < now ? "font-semibold text-red" : ""}>
            due <When at={row.dueAt} />
          </span>
        </>
      )}
      {rule && `; ${rule}`}.{flags.map((flag) => ` ${flag}.`)}
      {plan?.status === "planned" || plan?.status === "proposed" ? (
        <>
          {" "}
          {plan.status === "planned" ? "Goes live" : `${plan.by} proposes`} <When at={plan.at} />
          {plan.status === "proposed" && ", to be confirmed"}.
        </>
      ) : (
        row.publishAt && (
          <>
            {" "}
            Wished for <When at={row.publishAt} />.
          </>
        )
      )}
      <Ahead page={page} />
      <Elsewhere page={page} />
      {page.embargoUntil !== null && page.embargoUntil > now && (
        <>
          {" "}
          Under embargo until <When at={page.embargoUntil} />.
        </>
      )}
      {page.endsAt !== null && row.live !== null && (
        <>
          {" "}
          Readers see it until <When at={page.endsAt} />.
        </>
      )}
      {page.revised && page.live !== null && (
        <>
          {" "}
          A revision: readers go on seeing{" "}
          <Link
            to={`/pieces/${row.slug}/versions?from=${page.live}&to=${page.version.number}`}
            className="underline underline-offset-3 hover:text-blue"
          >
            version {page.live}
          </Link>{" "}
          until this is released
          {page.abandonable && (
            <>
              {", or "}
              <Link to={`/pieces/${row.slug}?do=abandon`} className="underline underline-offset-3 hover:text-blue">
                give it up
              </Link>
            </>
          )}
          .
        </>
      )}
      {row.private && " Only you see it until it is sent."}
    </>
  );
}

/** The editions it is in, and what is planned of it beside the reader site. */
const Elsewhere = ({ page: { through } }: { page: PiecePageData }) => (
  <>
    {through.editions.map(({ channel, number, name, at, releasedAt, status }) => (
      <span key={`${channel} ${number}`}>
        {" "}
        {releasedAt === null ? "In" : "Went out with"}{" "}
        <Link to={`/editions/${channel}/${number}`} className="underline underline-offset-3 hover:text-blue">
          {name}
        </Link>
        , {status === "held" && "held since "}
        <When at={releasedAt ?? at} dateOnly />.
      </span>
    ))}
    {through.channels.map(
      ({ key, name, plan }) =>
        plan && (
          <span key={key}>
            {" "}
            {plan.status === "held" ? "Held for" : plan.status === "proposed" ? "Proposed for" : "Leaves through"}{" "}
            {name} <When at={plan.at} />.
          </span>
        ),
    )}
  </>
);
