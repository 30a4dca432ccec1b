import { Form, Link, useSearchParams } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { Input } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Findings, Since, VersionList } from "#app/views/piece/version-list.tsx";
import { VersionPair } from "#app/views/piece/version-pair.tsx";
import type { Route } from "../../routes/+types/piece-versions.ts";

/** A piece’s versions, and any two of them compared. */
export function VersionsView({ loaderData: page, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const [words] = useSearchParams();
  const [before, after] = page.pair ?? [];
  const found = words.get("find") ?? "";
  const address = (as: "one" | "beside") =>
    `?from=${before?.number}&to=${after?.number}${as === "beside" ? "&as=beside" : ""}`;
  const gone = page.pair !== null && (!before || !after);
  return (
    <div className="grid min-h-full grid-cols-[minmax(0,1fr)] lg:grid-cols-[456px_minmax(0,1fr)]">
      <div className="border-rule px-4 py-5 md:px-6 lg:border-r">
        <p className="mb-1 text-13 text-rail">
          <Link data-back to={`/pieces/${page.piece.slug}`} className="hover:text-blue">
            {page.piece.title}
          </Link>
        </p>
        <h1 className="mb-3">Versions</h1>
        {actionData?.refusal && <Message more={actionData.refusal.missing}>{actionData.refusal.sentence}</Message>}
        {actionData?.fields.name && <Message>{actionData.fields.name}</Message>}
        <Since page={page} />
        <Form role="search" className="mb-4 flex gap-2">
          <Input
            look="small"
            name="find"
            aria-label="Words that once stood here"
            placeholder="Words that once stood here"
            defaultValue={found}
            className="min-w-0 flex-1"
          />
          <Button>Find</Button>
        </Form>
        {page.findings && <Findings page={page} words={found} />}
        <VersionList page={page} chosen={[before?.number, after?.number]} />
      </div>
      {before && after ? (
        <VersionPair
          key={`${before.id} ${after.id}`}
          page={page}
          before={before}
          after={after}
          beside={words.get("as") === "beside"}
          address={address}
        />
      ) : (
        <p className="px-6 py-6 text-rail">
          {gone
            ? "One of these versions is not there any more: only versions nobody relied on are ever thinned out."
            : page.count === 1
              ? "There is one version only. With the next there is something to compare."
              : "Choose two versions to compare, or one of the shortcuts."}
        </p>
      )}
    </div>
  );
}
