import { Link } from "react-router";
import { useClock, When } from "#app/views/time/clock.tsx";
import { sayRule } from "#core/review/round.ts";
import { sayDue } from "#core/time/words.ts";
import type { PiecePage } from "./page.ts";

const SAID = { approve: "approved", return: "returned", decline: "declined", abstain: "abstained" };
const WAITS = { open: "to decide", waiting: "waits their turn", decided: "", void: "does not count", closed: "" };

/** The present review: its rule, who sits for whom, who has answered, what is left of its time, and how to help it on. */
export function ThisRound({ page, round }: { page: PiecePage; round: NonNullable<PiecePage["round"]> }) {
  const { now } = useClock();
  const counting = round.seats.filter((seat) => seat.status !== "void");
  const answered = counting.filter((seat) => seat.verdict !== null).length;
  const { dueAt, slug } = page.row;
  return (
    <section aria-label="This review">
      <h2 className="text-rail">This review</h2>
      <p className="mt-1">
        Round {round.number}: {sayRule(round)}. {answered} of {counting.length} answered.
      </p>
      {dueAt !== null && (
        <p className={dueAt < now ? "font-semibold text-red" : "text-rail"}>
          {sayDue(dueAt, now)}, <When at={dueAt} />
        </p>
      )}
      <ul className="mt-1 space-y-1">
        {round.seats.map((seat) => (
          <li key={seat.id} title={seat.void ?? seat.note}>
            <b className="font-semibold">{seat.person}</b>
            {seat.for && ` for ${seat.for}`}{" "}
            <span className="text-rail">{seat.verdict ? SAID[seat.verdict] : WAITS[seat.status]}</span>
            {seat.flag && <span className="block text-red">{seat.flag}</span>}
          </li>
        ))}
      </ul>
      {page.signs && counting.some((seat) => seat.verdict === "approve") && (
        <Link to={`/pieces/${slug}/signed`} className="mt-1 block py-1 font-semibold text-blue">
          The signed page
        </Link>
      )}
      {page.routing && (
        <Link
          to={`/pieces/${slug}?do=pass`}
          preventScrollReset
          className="mt-1 inline-block py-1 font-semibold text-blue"
        >
          More time, another seat, somebody else
        </Link>
      )}
    </section>
  );
}
