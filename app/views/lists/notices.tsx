import { Link } from "react-router";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Empty } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { sayInstant } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/notices.ts";
import { useLastLook } from "./last-look.ts";

type Data = Route.ComponentProps["loaderData"];
type Notice = Data["folds"][number]["newest"];

/** What one was told, newest first; what is about one piece stands together, and what came since one last looked above. */
export function NoticesView({ loaderData: { folds, lookedAt, looksOnly } }: Route.ComponentProps) {
  const since = useLastLook(lookedAt, looksOnly);
  const fresh = folds.filter(({ newest }) => since !== null && newest.at > since);
  const older = folds.slice(fresh.length);
  const unread = folds.some(({ newest }) => newest.readAt === null);
  return (
    <Page
      wide={false}
      title="Notices"
      act={
        <div className="flex items-center gap-4">
          <TextLink to="/notices/how" className="text-13">
            How you are told
          </TextLink>
          {unread && (
            <ActionForm intent="read" label="Mark all as read" answer={null} className="contents">
              <Button>Mark all as read</Button>
            </ActionForm>
          )}
        </div>
      }
    >
      {folds.length === 0 && <Empty>Nothing yet. What concerns you is told here and by mail.</Empty>}
      {fresh.length > 0 && <Folds label="Since you last looked" folds={fresh} />}
      {older.length > 0 && <Folds label={fresh.length > 0 ? <Before since={since ?? 0} /> : null} folds={older} />}
    </Page>
  );
}

function Before({ since }: { since: number }) {
  const { now, zone } = useClock();
  return <>Before, {sayInstant(since, zone, now)}</>;
}

const Folds = ({ label, folds }: { label: React.ReactNode; folds: Data["folds"] }) => (
  <section className="mt-4">
    {label && <h2 className="border-b border-ink pb-1.5">{label}</h2>}
    <Rows className={label ? "" : "border-t border-ink"}>
      {folds.map(({ newest, others }) => (
        <Row key={newest.id} className={`py-2 ${newest.readAt === null ? "" : "text-rail"}`}>
          <Told notice={newest} loud={newest.readAt === null} />
          {others.length > 0 && (
            <Fold
              summary={
                newest.batchId
                  ? `${counted(others.length, "piece")} more`
                  : `${counted(others.length, "thing")} more of it`
              }
            >
              <ul className="mt-1 space-y-1.5 border-l-2 border-rule pl-3">
                {others.map((one) => (
                  <li key={one.id}>
                    <Told notice={one} loud={false} />
                  </li>
                ))}
              </ul>
            </Fold>
          )}
        </Row>
      ))}
    </Rows>
  </section>
);

function Told({ notice, loud }: { notice: Notice; loud: boolean }) {
  const { lead, headline, at, note, mail, mailError, attempts, nextAt } = notice;
  return (
    <>
      <p className="flex justify-between gap-4">
        {lead ? (
          <Link to={lead} className={`min-w-0 py-1 wrap-anywhere hover:text-blue ${loud ? "font-semibold" : ""}`}>
            {headline}
          </Link>
        ) : (
          <span className="min-w-0 wrap-anywhere">{headline}</span>
        )}
        <span className="shrink-0 text-13 text-rail">
          <When at={at} />
        </span>
      </p>
      {note && <p className="text-13 whitespace-pre-line wrap-anywhere">{note}</p>}
      {mailError && mail === "waiting" && (
        <p className="text-12 text-red">
          Its mail has not left after {counted(attempts ?? 0, "attempt")}; next <When at={nextAt ?? at} />.
        </p>
      )}
      {mail === "given-up" && <p className="text-12 text-red">Its mail could not be delivered: {mailError}</p>}
    </>
  );
}
