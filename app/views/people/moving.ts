import type { Item } from "#server/load/queries.ts";

/** What a form sends of something that is handed on: what it is, as it was seen, and from whom. */
export const sendsOf = ({ sort, id, pieceId, revision, personId: from }: Item) => ({
  sort,
  id,
  pieceId,
  revision,
  from,
});
