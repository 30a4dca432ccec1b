import { Form, Link, redirect, useSearchParams } from "react-router";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { Input } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Findings, Since, VersionList } from "#app/views/piece/version-list.tsx";
import { VersionPair } from "#app/views/piece/version-pair.tsx";
import { nameVersion, restoreVersion } from "#server/text/commands.ts";
import { versionsPage } from "#server/text/queries.ts";
import type { Route } from "./+types/piece-versions.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const [from, to, before] = ["from", "to", "before"].map((key) => Number.parseInt(words.get(key) ?? "", 10));
  const page = await versionsPage(context.db, viewer, params.slug, {
    before: before || null,
    pair: from && to ? [Math.min(from, to), Math.max(from, to)] : null,
    find: (words.get("find") ?? "").trim().slice(0, 200),
  });
  if (!page) throw notFound();
  return page;
}

const shared = { pieceId: z.uuid(), number: z.coerce.number().int() };
const passage = z.object({ from: z.int().min(0), at: z.int().min(0) });
const what = z
  .string()
  .transform((text, issue) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      issue.addIssue({ code: "custom", message: "The passage did not arrive whole." });
      return z.NEVER;
    }
  })
  .pipe(z.union([z.object({ all: z.literal(true) }), z.object({ field: z.string(), block: passage.optional() })]));

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "name") {
    const name = z.string().trim().max(120, "At most 120 characters fit.");
    const read = readForm(z.object({ ...shared, name }), form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => nameVersion(act, read.values));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "restore") throw notFound();
  const read = readForm(z.object({ ...shared, base: z.string(), what }), form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => restoreVersion(act, read.values));
  if (!("value" in done)) return done;
  return redirect(`/pieces/${params.slug}/versions?from=${read.values.number}&to=${done.value.version}`);
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Versions of ${loaderData?.piece.title ?? "a piece"} · Elenco` },
];

export default function Versions({ loaderData: page, actionData: answer }: Route.ComponentProps) {
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
