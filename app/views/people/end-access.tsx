import { Link, useNavigation } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import type { Leaving, Waiting } from "#server/people/leaving.ts";
import type { PersonPage } from "#server/people/queries.ts";

/** What each sort of waiting asks of a person, in words. */
export const ASKED: Record<Waiting["sort"], string> = {
  seat: "a decision waits on them",
  assignment: "it is assigned to them",
  text: "they are writing it",
};

/** Before somebody's access ends: what would then wait on nobody, and who takes each thing over. */
export function EndAccess({
  page,
  remains,
  people,
  answer,
}: {
  page: PersonPage;
  remains: Leaving;
  people: { id: string; name: string; away: boolean }[];
  answer: FormAnswer | null;
}) {
  const busy = useNavigation().state === "submitting";
  const name = new Map(people.map((one) => [one.id, one.away ? `${one.name} (away)` : one.name]));
  const first = page.name.split(" ")[0];
  return (
    <ActForm intent="end-access" answer={answer} className="mt-5 max-w-200 space-y-4">
      <p>
        {first}’s sessions end at once, and everything they hold. What they wrote and decided stays.
        {remains.standsInFor.length > 0 && ` They no longer stand in for ${remains.standsInFor.join(", ")}.`}
        {remains.private > 0 &&
          ` ${remains.private === 1 ? "One private draft stays theirs" : `${remains.private} private drafts stay theirs`}, unread.`}
      </p>
      {remains.breaks.length > 0 && (
        <section>
          <h2 className="border-b border-ink pb-1">What the workflows would lack</h2>
          <ul className="text-13">
            {remains.breaks.map((one) => (
              <li key={one.workflow + one.sentence} className="border-b border-rule py-1.5">
                <Link to={`/workflows/${one.key}`} className="font-semibold hover:text-blue">
                  {one.workflow}
                </Link>
                : {one.sentence}
              </li>
            ))}
          </ul>
        </section>
      )}
      <section>
        <h2 className="border-b border-ink pb-1">
          {remains.waiting.length === 0 ? "Nothing waits on them" : "Who takes over what waits on them"}
        </h2>
        <ul>
          {remains.waiting.map((one) => (
            <li
              key={one.sort + one.pieceId}
              className="grid items-center gap-x-4 border-b border-rule py-1 sm:grid-cols-[minmax(0,1fr)_220px]"
            >
              <span className="min-w-0">
                <Link to={`/pieces/${one.slug}`} className="block truncate font-semibold hover:text-blue">
                  {one.title}
                </Link>
                <span className="block text-13 text-rail">{ASKED[one.sort]}</span>
              </span>
              <Select
                name={`${one.sort}:${one.pieceId}`}
                aria-label={`Who takes over “${one.title}”`}
                defaultValue={one.proposed ?? ""}
              >
                <Option value="">nobody yet</Option>
                {one.able.map((id) => (
                  <Option key={id} value={id}>
                    {name.get(id)}
                  </Option>
                ))}
              </Select>
            </li>
          ))}
        </ul>
      </section>
      <div className="flex gap-2">
        <Button look="go" busy={busy}>
          {busy ? "One moment …" : `End ${first}’s access`}
        </Button>
        <Link data-back to={`/people/who/${page.key}`} className="self-center text-13 font-semibold text-blue">
          Leave it as it is
        </Link>
      </div>
    </ActForm>
  );
}
