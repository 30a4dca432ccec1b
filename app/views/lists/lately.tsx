import { Link } from "react-router";
import { Fold } from "#app/ui/fold.tsx";
import { Aside, Empty } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Faces } from "#app/ui/tabs.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { sayInstant } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/lately.ts";
import { useLook } from "./last-look.ts";
import { Narrowing } from "./narrowing.tsx";
import { useWords } from "./words.ts";

type Data = Route.ComponentProps["loaderData"];
type Happened = Data["folds"][number][number];

/** What happened to the pieces one may see, by piece or by person; since one was last here, unless more is asked. */
export function LatelyView({ page }: { page: Data }) {
  const { folds, by, from, sinceLast, choices, more } = page;
  const words = useWords();
  const { zone, now } = useClock();
  useLook(page.looksOnly);
  const all = folds.reduce((sum, fold) => sum + fold.length, 0);
  const since = `Since ${sinceLast ? "you were last here, " : ""}${sayInstant(from, zone, now)}`;
  return (
    <Page
      title="What happened"
      about={`${since}: ${all === 0 ? "nothing" : `${more ? "more than " : ""}${counted(all, "thing")}`}.`}
      act={
        <Faces
          label="What stands together"
          word="by"
          words={words}
          faces={[
            ["", "by piece"],
            ["person", "by person"],
          ]}
        />
      }
      back={{ to: "/pending", name: "Waiting" }}
    >
      <Narrowing
        label="Narrow what happened"
        by={[
          {
            name: "days",
            every: "Since I was last here",
            options: [
              { key: "1", name: "In a day" },
              { key: "7", name: "In a week" },
              { key: "30", name: "In 30 days" },
            ],
          },
          { name: "section", every: "Every section", options: choices.sections },
          { name: "workflow", every: "Every workflow", options: choices.workflows },
          { name: "person", every: "Everybody", options: choices.people },
        ]}
      />
      {folds.length === 0 ? (
        <Empty>Nothing happened here in that time.</Empty>
      ) : (
        <Rows aria-label="What happened">
          {folds.map(([newest, ...others]) =>
            newest ? (
              <Row key={newest.seq} className="py-1.5 text-13">
                <Told one={newest} by={by} loud />
                {others.length > 0 && (
                  <Fold summary={`${counted(others.length, "thing")} more`}>
                    <ul className="mt-1 space-y-1 border-l-2 border-rule pl-3">
                      {others.map((one) => (
                        <li key={one.seq}>
                          <Told one={one} by={by} />
                        </li>
                      ))}
                    </ul>
                  </Fold>
                )}
              </Row>
            ) : null,
          )}
        </Rows>
      )}
      {more && <Aside className="mt-2">More happened before these. Narrow it to see that.</Aside>}
    </Page>
  );
}

/** One thing in a sentence: what it stands under comes first. */
function Told({ one, by, loud = false }: { one: Happened; by: Data["by"]; loud?: boolean }) {
  const piece = (
    <Link to={`/pieces/${one.slug}`} className={`hover:text-blue ${loud && by === "piece" ? "font-semibold" : ""}`}>
      {one.title}
    </Link>
  );
  const who = <b className="font-semibold">{one.who ?? "Elenco"}</b>;
  return (
    <span className="flex flex-wrap justify-between gap-x-4">
      <span className="min-w-0 break-words">
        {by === "piece" ? (
          <>
            {loud && <>{piece} · </>}
            {who} {one.words}
          </>
        ) : (
          <>
            {loud && <>{who} </>}
            {one.words}: {piece}
          </>
        )}
      </span>
      <span className="text-rail">
        <When at={one.at} />
      </span>
    </span>
  );
}
