import { Link } from "react-router";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { TOPIC_WORDS, TOPICS } from "#core/telling/choices.ts";
import { list } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/publication-wording.ts";
import { PLACE_WORDS, partWords } from "./wording-words.ts";

type Data = Route.ComponentProps["loaderData"];

/** Every notice there is, by topic, and which of them the team words itself. */
export const WordingsView = ({ page }: { page: Data }) => (
  <Page
    title="Wording"
    about="In which words people are told, in the application, by mail and in chat. Each notice has ready-made words; a team may say it in its own."
  >
    {TOPICS.map((topic) => {
      const some = page.wordings.filter((one) => one.topic === topic);
      if (some.length === 0) return null;
      return (
        <Part key={topic} title={TOPIC_WORDS[topic].name} about={TOPIC_WORDS[topic].about}>
          <Rows className="" aria-label={TOPIC_WORDS[topic].name}>
            {some.map(({ event, part, says, when, own }) => (
              <Row
                key={`${event} ${part}`}
                className="grid items-baseline gap-x-4 py-1.5 md:grid-cols-[minmax(0,5fr)_minmax(0,4fr)]"
              >
                <Link to={`/publication/wording/${event}/${part}`} className="min-w-0 wrap-anywhere hover:text-blue">
                  {says}
                </Link>
                <span className="min-w-0 text-13 text-rail wrap-anywhere">
                  to {partWords(part)}, when somebody {when}
                  {own.length > 0 && (
                    <b className="block font-semibold text-ink">
                      Your own words {list(own.map((place) => PLACE_WORDS[place]))}
                    </b>
                  )}
                </span>
              </Row>
            ))}
          </Rows>
        </Part>
      );
    })}
  </Page>
);
