/** What a role can allow. The sentence is shown wherever the permission is, after "may". */
export const PERMISSIONS = {
  "piece.create": "begin new pieces",
  "piece.read": "read pieces that are not public",
  "piece.edit": "change a piece's text where its state lets them",
  "piece.comment": "comment on pieces they may read",
  "assistant.ask": "ask the assistant about pieces they may change, and take what it brings",
  "piece.send": "take a workflow's steps where it names them",
  "review.decide": "decide in a review where they have a seat",
  "piece.route": "pass pieces and their reviews on to other people, places and dates",
  "piece.override": "move a piece past what its workflow asks, with a reason",
  "piece.delete": "delete pieces, and bring deleted ones back",
  "piece.erase": "erase a deleted piece for good, with a reason",
  "intake.judge": "judge what comes in: requests, ideas, what readers say",
  "guest.invite": "let a guest in to one piece by a link",
  "piece.schedule": "plan when a piece reaches readers",
  "piece.release": "let a piece out to readers",
  "release.outside": "let a piece out at once outside its channel's windows, with a reason",
  "edition.edit": "fill and order editions, move their dates, and hand them over",
  "workflow.edit": "change workflows and choose where they apply",
  "section.edit": "arrange the sections and the kinds of pieces",
  "publication.edit": "change the publication's name, zone and working calendar",
  "access.edit": "invite people, change roles, and say who holds which",
  "access.see-as": "see every screen as somebody else does",
  "ledger.read": "read the record of everything that happened",
} as const;

export type Permission = keyof typeof PERMISSIONS;

/** Permissions by what they touch, in the order in which they are shown. */
export const PERMISSION_GROUPS: readonly { name: string; permissions: readonly Permission[] }[] = [
  { name: "The text", permissions: ["piece.create", "piece.read", "piece.edit", "piece.comment", "assistant.ask"] },
  {
    name: "Its way",
    permissions: [
      "piece.send",
      "review.decide",
      "piece.route",
      "piece.override",
      "piece.delete",
      "piece.erase",
      "guest.invite",
      "intake.judge",
    ],
  },
  { name: "Readers", permissions: ["piece.schedule", "piece.release", "release.outside", "edition.edit"] },
  {
    name: "The workshop",
    permissions: ["workflow.edit", "section.edit", "publication.edit", "access.edit", "access.see-as", "ledger.read"],
  },
];

/** Permissions that can also be held for one's own pieces only. */
export const OWN_PERMISSIONS = [
  "piece.read",
  "piece.edit",
  "piece.comment",
  "assistant.ask",
  "piece.send",
  "piece.delete",
  "guest.invite",
  "piece.schedule",
] as const satisfies readonly Permission[];

/** The form of a permission that reaches only what one wrote oneself. */
export type OwnPermission = `${(typeof OWN_PERMISSIONS)[number]}.own`;

export type Held = Permission | OwnPermission;

/** How much of a permission a role has. */
export type Extent = "no" | "own" | "yes";

/** The own-only form of a permission, whether or not it exists. */
export const ownOnly = (permission: Permission): Held => OWN_FORM[permission];

const OWN_FORM = Object.fromEntries(
  Object.keys(PERMISSIONS).map((permission) => [permission, `${permission}.own`]),
) as Record<Permission, OwnPermission>;

/** Whether a permission can be held for one's own pieces only. */
export const hasOwnForm = (permission: Permission) => (OWN_PERMISSIONS as readonly Permission[]).includes(permission);

/** How much of a permission is among those held. */
export function extentOf(held: readonly Held[], permission: Permission): Extent {
  if (held.includes(permission)) return "yes";
  return held.includes(ownOnly(permission)) ? "own" : "no";
}

/** What is held, with one permission held as far as said. */
export function withExtent(held: readonly Held[], permission: Permission, extent: Extent): Held[] {
  const rest = held.filter((one) => one !== permission && one !== ownOnly(permission));
  if (extent === "no") return rest;
  return [...rest, extent === "yes" || !hasOwnForm(permission) ? permission : ownOnly(permission)];
}

/** Reads what a role is to allow; null when something in it is no permission. Order and repetitions do not matter. */
export function readHeld(names: readonly string[]): Held[] | null {
  const known = new Set<string>([...Object.keys(PERMISSIONS), ...OWN_PERMISSIONS.map(ownOnly)]);
  if (names.some((name) => !known.has(name))) return null;
  return [...new Set(names)].sort() as Held[];
}

/** A role as the demo and a first start lay it down. */
export interface ReadyRole {
  key: string;
  name: string;
  permissions: readonly Held[];
}

const OWN: readonly Held[] = [
  "piece.read.own",
  "piece.edit.own",
  "piece.comment.own",
  "assistant.ask.own",
  "piece.send.own",
  "piece.delete.own",
];

/** Ready-made roles for any team. */
export const READY_ROLES: readonly ReadyRole[] = [
  { key: "chief", name: "Managing editor", permissions: Object.keys(PERMISSIONS) as Permission[] },
  {
    key: "lead",
    name: "Section lead",
    permissions: [
      "piece.create",
      "piece.read",
      "piece.edit",
      "piece.comment",
      "assistant.ask",
      "piece.send",
      "review.decide",
      "piece.route",
      "piece.delete",
      "guest.invite",
      "intake.judge",
      "piece.schedule",
      "edition.edit",
    ],
  },
  { key: "writer", name: "Writer", permissions: ["piece.create", ...OWN] },
  { key: "checker", name: "Route checker", permissions: ["piece.read", "piece.comment", "review.decide"] },
  {
    key: "copy-editor",
    name: "Copy editor",
    permissions: ["piece.read", "piece.edit", "piece.comment", "review.decide"],
  },
  { key: "picture-desk", name: "Picture desk", permissions: ["piece.read", "piece.comment"] },
  {
    key: "web",
    name: "Web and releases",
    permissions: ["piece.read", "piece.comment", "piece.send", "piece.schedule", "piece.release", "edition.edit"],
  },
];

/** The key of the role guests hold on the one piece their link opens. */
export const GUEST_ROLE = "guest";
