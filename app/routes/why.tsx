import { redirect } from "react-router";
import { notFound, requireViewer } from "#app/request.ts";
import { WhyView } from "#app/views/people/why.tsx";
import { choosable } from "#server/people/queries.ts";
import { actionsFor, mayAskAbout, pieceAsked, why } from "#server/pieces/why.ts";
import type { Route } from "./+types/why.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const get = (key: string) => words.get(key)?.trim().slice(0, 200) ?? "";
  const person = get("person") || viewer.key;
  const action = get("action");
  const slug = get("piece").replace(/^.*\/pieces\//, "");
  if (!mayAskAbout(viewer, person)) throw notFound();
  const everyone = mayAskAbout(viewer, "");
  const [people, facts, answer] = await Promise.all([
    everyone ? choosable(context.db, viewer) : [],
    slug ? pieceAsked(context.db, viewer, slug) : null,
    action ? why(context.db, viewer, { person, action, piece: slug || null }) : null,
  ]);
  const wanted = get("do");
  if (wanted) {
    // Whoever wants to do it may be quicker than their page, which still shows it closed.
    if (facts && answer?.allowed) throw redirect(`/pieces/${facts.piece.slug}?${new URLSearchParams({ do: wanted })}`);
    words.delete("do");
    throw redirect(`/why?${words}`);
  }
  return {
    person,
    action,
    slug,
    people: everyone ? people.map(({ key, name }) => ({ key, name })) : [{ key: viewer.key, name: viewer.name }],
    actions: actionsFor(facts),
    title: facts?.piece.title ?? null,
    answer,
    unknown: action !== "" && answer === null,
    everyone,
  };
}

export const meta: Route.MetaFunction = () => [{ title: "Why? · Elenco" }];

export default function Why(props: Route.ComponentProps) {
  return <WhyView {...props} />;
}
