import { useNavigation } from "react-router";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { DaysAway } from "#app/views/people/days-away.tsx";
import { Password, SecondFactor, Sessions, Zone } from "#app/views/people/own-account.tsx";
import { Passkeys } from "#app/views/people/passkeys.tsx";
import type { SecondFactorAnswer } from "#app/views/people/second-factor.tsx";
import type { Route } from "../../routes/+types/me.ts";

/** One’s own days away, zone, password, factors and sessions. */
export function MeView({ loaderData, actionData }: Route.ComponentProps) {
  const { page, people, sessions, passkeys, demanded, pending, zone } = loaderData;
  const busy = useNavigation().state !== "idle";
  const answer: SecondFactorAnswer | null = useLastAnswer<SecondFactorAnswer>(actionData) ?? null;
  return (
    <div className="px-4 py-5 md:px-6">
      <h1>{page.name}</h1>
      <p className="mt-1 text-13 text-rail">{page.email}</p>
      <div className="mt-6 grid max-w-240 gap-x-14 gap-y-10 lg:grid-cols-2">
        <div className="space-y-10">
          <DaysAway page={page} people={people} answer={answer} />
          <section aria-label="What you hold">
            <h2 className="border-b border-ink pb-1 text-15! font-bold">What you hold</h2>
            {page.holds.length === 0 && (
              <p className="py-1.5 text-13 text-rail">No role: you see what you write yourself.</p>
            )}
            <ul>
              {page.holds
                .filter((one) => one.when !== "over")
                .map((one) => (
                  <li key={one.id} className="border-b border-rule py-1.5 text-13">
                    {one.words}
                    {one.group && <span className="text-rail"> · through the group {one.group}</span>}
                  </li>
                ))}
            </ul>
          </section>
        </div>
        <div className="space-y-10">
          <Zone zone={zone} answer={answer} busy={busy} />
          <Password answer={answer} busy={busy} />
          <SecondFactor
            has={page.hasCode}
            demanded={demanded && passkeys.length === 0}
            pending={page.hasCode ? null : (answer?.pending ?? pending)}
            codes={answer?.codes ?? null}
            answer={answer}
            busy={busy}
          />
          <Passkeys passkeys={passkeys} answer={answer} busy={busy} />
          <Sessions sessions={sessions} answer={answer} busy={busy} />
        </div>
      </div>
    </div>
  );
}
