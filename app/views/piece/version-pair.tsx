import { type ReactNode, useMemo } from "react";
import { Link } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Compared } from "#app/views/text/changed.tsx";
import { useComparison } from "#app/views/text/comparison.ts";
import { When } from "#app/views/time/clock.tsx";
import { wordsChanged } from "#core/text/compare.ts";
import { RemarksCompared } from "./remarks/compared.tsx";
import type { VersionsPage } from "./versions.ts";

type Version = NonNullable<NonNullable<VersionsPage["pair"]>[number]>;

/** Two versions compared: in one text, or side by side. */
export function VersionPair({
  page,
  before,
  after,
  beside,
  address,
}: {
  page: VersionsPage;
  before: Version;
  after: Version;
  /** Whether they stand side by side. */
  beside: boolean;
  /** The address of this comparison shown the one way or the other. */
  address(as: "one" | "beside"): string;
}) {
  const compared = useComparison(page.piece.fields, before.content, after.content, page.names);
  const changed = useMemo(() => compared?.filter((one) => one.change.kind !== "same") ?? [], [compared]);
  const words = useMemo(() => wordsChanged(changed), [changed]);
  const isText = (key: string) => page.piece.fields.some((field) => field.key === key && field.type === "manuscript");
  const restores = page.editable && after.number === page.piece.newest && before.number < after.number;
  return (
    <section aria-label="Comparison" className="min-w-0 px-4 py-5 md:px-6">
      <div className="mb-4 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-2 border-b border-ink pb-3">
        <p>
          <b className="font-semibold">
            Version {before.number} → {after.number}
          </b>{" "}
          <span className="text-13 text-rail" role="status">
            {compared === null
              ? "comparing …"
              : changed.length === 0
                ? "nothing differs"
                : `${words.added} words came, ${words.removed} went`}
          </span>
        </p>
        <div className="flex items-center gap-4 text-13">
          <View to={address("one")} on={!beside}>
            in one
          </View>
          <View to={address("beside")} on={beside}>
            side by side
          </View>
          {restores && (
            <Restore page={page} number={before.number} what='{"all":true}'>
              Bring version {before.number} back
            </Restore>
          )}
        </div>
      </div>
      <RemarksCompared threads={page.threads} shown={`${changed.length} ${beside}`} />
      {changed.map(({ key, name, change }) => (
        <div key={key} className="mb-8">
          <h2 className="mb-2 text-rail">{name}</h2>
          {beside ? (
            <div className="grid grid-cols-2 gap-8">
              {(["before", "after"] as const).map((side) => (
                <div
                  key={side}
                  data-after={side === "after" ? key : undefined}
                  className="manuscript compared min-w-0 text-[17px]/[26px]!"
                >
                  <Compared change={change} side={side} />
                </div>
              ))}
            </div>
          ) : (
            <div data-after={key} className="manuscript compared mx-auto">
              <Compared
                change={change}
                side="both"
                bringBack={
                  restores
                    ? (from, place) => (
                        <Restore
                          page={page}
                          number={before.number}
                          what={JSON.stringify(
                            isText(key) ? { field: key, block: { from, at: place } } : { field: key },
                          )}
                        >
                          Bring this passage back
                        </Restore>
                      )
                    : undefined
                }
              />
            </div>
          )}
        </div>
      ))}
      <p className="text-13 text-rail">
        {before.number}: {before.author}, <When at={before.at} /> · {after.number}: {after.author},{" "}
        <When at={after.at} />
      </p>
    </section>
  );
}

function View({ to, on, children }: { to: string; on: boolean; children: string }) {
  return (
    <Link
      to={to}
      preventScrollReset
      aria-current={on || undefined}
      className={on ? "font-bold" : "text-blue underline"}
    >
      {children}
    </Link>
  );
}

/** A button that brings an earlier version, or a passage of it, back as a new version. */
export function Restore({
  page,
  number,
  what,
  children,
}: {
  page: VersionsPage;
  number: number;
  what: string;
  children: ReactNode;
}) {
  const busy = useBusy();
  return (
    <ActionForm
      intent="restore"
      answer={null}
      sends={{ pieceId: page.piece.id, base: page.piece.hash, number, what }}
      className="font-sans"
    >
      <Button look="quiet" busy={busy} className="-ml-3">
        {children}
      </Button>
    </ActionForm>
  );
}
