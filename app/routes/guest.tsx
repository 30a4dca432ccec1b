import { data } from "react-router";
import { z } from "zod";
import { guestBy } from "#app/guest.ts";
import { answered, guarded, misread, notFound, readForm, runCommand } from "#app/request.ts";
import { GuestView } from "#app/views/people/guest.tsx";
import { nameGuest } from "#server/guests/commands.ts";
import { guestOf, guestPage, isOver } from "#server/guests/queries.ts";
import { decide, decideInput } from "#server/passage/deciding.ts";
import { masthead } from "#server/reader/queries.ts";
import { remark, remarkInput } from "#server/remarks/commands.ts";
import type { Route } from "./+types/guest.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  if (!(await guestOf(context.db, params.secret, context.now)) && (await isOver(context.db, params.secret)))
    return data({ over: true as const, publication: (await masthead(context.db)).name }, { status: 410 });
  const { link, viewer } = await guestBy(context, params.secret);
  const clock = { now: viewer.now, zone: viewer.zone };
  const shown = link.named === null ? null : await guestPage(context.db, viewer, link);
  if (link.named !== null && !shown) throw notFound();
  return { over: false as const, publication: viewer.places.name, clock, piece: shown };
}

const FORMS = {
  name: z.object({ name: z.string().trim().min(1, "Your name.").max(100, "At most 100 characters fit.") }),
  comment: remarkInput.pick({ body: true, place: true }),
  decide: decideInput.omit({ pieceId: true, dueAt: true }),
};

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const { link, viewer } = await guestBy(context, params.secret);
  const { pieceId } = link;
  // Not the request's own: whoever is signed in in this browser has no part in it.
  const act = { ...context.act(viewer.id), origin: `${context.address}, guest link` };
  const form = await request.formData();
  const intent = String(form.get("intent"));
  if (intent === "name") {
    const read = readForm(FORMS.name, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => nameGuest(act, read.values.name));
    return "value" in done ? answered(intent) : done;
  }
  if (intent === "comment") {
    const read = readForm(FORMS.comment, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => remark(act, { pieceId, ...read.values }));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "decide") throw notFound();
  const read = readForm(FORMS.decide, form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => decide(act, { pieceId, ...read.values }));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: (loaderData as { publication?: string } | undefined)?.publication ?? "Elenco" },
  { name: "robots", content: "noindex" },
];

export default function Guest(props: Route.ComponentProps) {
  return <GuestView {...props} />;
}
