/** What a role can allow. The sentence is shown wherever the permission is. */
export const PERMISSIONS = {
  "piece.create": "begin new pieces",
  "piece.read": "read pieces that are not public",
  "piece.edit": "change a piece's text where its state lets them",
  "piece.comment": "comment on pieces they may read",
  "piece.send": "take a workflow's steps where it names them",
  "review.decide": "hold a seat in a review and decide",
  "piece.schedule": "plan when a piece reaches readers",
  "piece.release": "let a piece out to readers",
  "workflow.edit": "bring in workflows and choose where they apply",
  "ledger.read": "read the record of everything that happened",
} as const;

export type Permission = keyof typeof PERMISSIONS;

/** Permissions that also exist for one's own pieces only. */
export type OwnPermission = "piece.read.own" | "piece.edit.own" | "piece.send.own" | "piece.comment.own";

export type Held = Permission | OwnPermission;

/** The own-only form of a permission, whether or not any role uses it. */
export const ownOnly = (permission: Permission): Held => `${permission}.own` as Held;

/** A role as the demo and a first start lay it down. */
export interface ReadyRole {
  key: string;
  name: string;
  permissions: readonly Held[];
}

const OWN: readonly Held[] = ["piece.read.own", "piece.edit.own", "piece.comment.own", "piece.send.own"];

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
      "piece.send",
      "review.decide",
      "piece.schedule",
    ],
  },
  { key: "writer", name: "Writer", permissions: ["piece.create", ...OWN] },
  { key: "checker", name: "Route checker", permissions: ["piece.read", "piece.comment", "review.decide"] },
  {
    key: "copy-editor",
    name: "Copy editor",
    permissions: ["piece.read", "piece.edit", "piece.comment", "review.decide"],
  },
  { key: "safety", name: "Safety officer", permissions: ["piece.read", "piece.comment", "review.decide"] },
  { key: "picture-desk", name: "Picture desk", permissions: ["piece.read", "piece.comment"] },
  {
    key: "web",
    name: "Web and releases",
    permissions: ["piece.read", "piece.comment", "piece.send", "piece.schedule", "piece.release"],
  },
];
