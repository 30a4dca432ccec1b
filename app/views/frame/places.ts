/** The places of the workshop, in the order of the left side. */
export const PLACES = [
  { to: "/turn", name: "Your turn", about: "What waits on you", configure: false },
  { to: "/pieces", name: "Pieces", about: "Everything in flight", configure: false },
  { to: "/schedule", name: "Schedule", about: "What reaches readers, and when", configure: false },
  { to: "/workflows", name: "Workflows", about: "The lines pieces travel on", configure: true },
] as const;
