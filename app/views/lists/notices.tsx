import { Form, Link } from "react-router";
import { Button, TextLink } from "#app/ui/button.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Route } from "../../routes/+types/notices.ts";

/** What one was told, newest first. */
export function NoticesView({ loaderData }: Route.ComponentProps) {
  const { notices } = loaderData;
  const unread = notices.some((one) => one.readAt === null);
  return (
    <div className="max-w-3xl px-4 py-5 md:px-6">
      <div className="mb-4 flex items-center justify-between">
        <h1>Notices</h1>
        <TextLink to="/notices/how" className="ml-auto pr-4 text-13">
          How you are told
        </TextLink>
        {unread && (
          <Form method="post">
            <Button>Mark all as read</Button>
          </Form>
        )}
      </div>
      {notices.length === 0 && <p className="text-rail">Nothing yet. What concerns you is told here and by mail.</p>}
      <ul className={notices.length ? "border-t border-ink" : ""}>
        {notices.map((one) => (
          <li
            key={one.id}
            data-row
            className={`border-b border-rule py-2 focus-within:bg-wash ${one.readAt === null ? "" : "text-rail"}`}
          >
            <p className="flex justify-between gap-4">
              {one.lead ? (
                <Link to={one.lead} className={`hover:text-blue ${one.readAt === null ? "font-semibold" : ""}`}>
                  {one.headline}
                </Link>
              ) : (
                <span>{one.headline}</span>
              )}
              <span className="shrink-0 text-13 text-rail">
                <When at={one.at} />
              </span>
            </p>
            {one.note && <p className="text-13 whitespace-pre-line">{one.note}</p>}
            {one.mailError && one.mail === "waiting" && (
              <p className="text-12 text-red">
                Its mail has not left after {one.attempts} attempt{one.attempts === 1 ? "" : "s"}; next{" "}
                <When at={one.nextAt ?? one.at} />.
              </p>
            )}
            {one.mail === "given-up" && (
              <p className="text-12 text-red">Its mail could not be delivered: {one.mailError}</p>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
