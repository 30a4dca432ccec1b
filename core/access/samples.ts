import type { Grant, Target } from "./decide.ts";

/** A writer's grant for the whole publication, or what a test makes of it. */
export const aGrant = (more: Partial<Grant> = {}): Grant => ({
  id: "g",
  group: null,
  roleKey: "writer",
  roleName: "Writer",
  permissions: ["piece.edit"],
  scope: { kind: "publication" },
  from: null,
  until: null,
  publishFrom: null,
  publishUntil: null,
  ...more,
});

/** A guide of somebody else's in Routes / Winter, open to anyone, or what a test makes of it. */
export const aPiece = (more: Partial<NonNullable<Target["piece"]>> = {}): Target => ({
  sectionIds: ["winter", "routes"],
  kindId: "guide",
  piece: {
    id: "p",
    authorId: "other",
    private: false,
    publishAt: null,
    assigneeIds: [],
    seatedIds: [],
    viewers: ["anyone"],
    editors: ["anyone"],
    ...more,
  },
});
