import { z } from "zod";
import { counted, list } from "../words/say.ts";
import { event, type Telling } from "./event.ts";

const state = { state: z.string(), name: z.string() };

export const pieceCreated = event("piece.created", {
  words: true,
  payload: z.object({
    title: z.string(),
    kind: z.string(),
    section: z.string(),
    workflow: z.string(),
    hash: z.string(),
    private: z.boolean(),
    /** What it was begun from, where it was from something. */ from: z.string().optional(),
  }),
  says: ({ section, from }) => `began it in ${section}${from ? `, from “${from}”` : ""}`,
});

export const modelKept = event("model.kept", {
  payload: z.object({ name: z.string() }),
  says: ({ name }) => `keeps it as the model text “${name}”`,
});
export const modelDropped = event("model.dropped", {
  payload: z.object({ name: z.string() }),
  says: ({ name }) => `did away with the model text “${name}”`,
});

/** How a review ended, for whoever hears that the piece moved on. */
const outcome = z.enum(["passed", "returned", "declined", "overridden"]);

const moved = z.object({
  ...state,
  transition: z.string(),
  step: z.string(),
  from: z.string().optional(),
  outcome: outcome.optional(),
  passedBy: z.array(z.string()),
  note: z.string(),
  version: z.number(),
  hash: z.string(),
  dueAt: z.number().nullable(),
  publishAt: z.number().nullable(),
  urgency: z.string(),
});
type Moved = z.infer<typeof moved>;

const by = (actor: string | null) => (actor ? ` (${actor})` : "");
const dueLine: NonNullable<Telling<{ dueAt: number | null }>["lines"]> = ({ payload, when }) =>
  payload.dueAt === null ? [] : [`Due ${when(payload.dueAt)}.`];

/** The author is told in the words of how the review ended, or that somebody else moved it. */
const author: Telling<Moved> = {
  asks: ({ outcome }) => (outcome === "returned" ? "work" : outcome === undefined ? "nothing" : "look"),
  says: ({ payload, actor, title }) => {
    const from = payload.from ?? "review";
    if (payload.outcome === "passed") return `“${title}” passed ${from}${by(actor)}`;
    if (payload.outcome === "returned") return `“${title}” came back from ${from}${by(actor)}`;
    if (payload.outcome === "declined") return `“${title}” was declined in ${from}${by(actor)}`;
    return `${actor ?? "Elenco"} moved “${title}” to ${payload.name}`;
  },
  note: ({ payload }) => payload.note,
  lines: dueLine,
};

export const pieceMoved = event("piece.moved", {
  payload: moved,
  says: ({ step, name }) => `took “${step}”, to ${name}`,
  tells: {
    author,
    assigned: {
      asks: "work",
      says: ({ payload, title }) => `${payload.name}: “${title}” is with you`,
      note: ({ payload }) => payload.note,
      lines: dueLine,
    },
    arrived: {
      asks: "nothing",
      says: ({ payload, actor, title }) => `“${title}” is now in ${payload.name}${by(actor)}`,
      note: ({ payload }) => payload.note,
      lines: dueLine,
    },
  },
});

export const pieceReleased = event("piece.released", {
  payload: z.object({
    version: z.number(),
    hash: z.string(),
    /** The channel, where it is not the reader site. */ through: z.string().optional(),
  }),
  says: ({ version, through }) => `version ${version} ${through ? `left through ${through}` : "reached readers"}`,
  tells: {
    author: {
      asks: "look",
      says: ({ title, payload }) =>
        payload.through ? `“${title}” left through ${payload.through}` : `“${title}” is live`,
    },
    derived: {
      asks: "look",
      says: ({ title, params }) => `“${title}” is out anew: your “${params.title}” was begun from it`,
    },
  },
});

export const pieceWithdrawn = event("piece.withdrawn", {
  payload: z.object({ version: z.number(), note: z.string(), notice: z.string() }),
  says: () => "took it away from readers",
  tells: {
    author: {
      asks: "look",
      says: ({ actor, title }) => `${actor ?? "Elenco"} took “${title}” away from readers`,
      note: ({ payload }) => payload.note,
    },
    derived: {
      asks: "look",
      says: ({ title, params }) => `“${title}” was taken from readers: your “${params.title}” was begun from it`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const pieceRecalled = event("piece.recalled", {
  payload: z.object({ ...state, from: z.string(), note: z.string() }),
  says: ({ from, name }) => `called it back from ${from}: now in ${name}`,
  tells: {
    released: {
      asks: "nothing",
      says: ({ payload, actor, title }) => `${actor ?? "Elenco"} called “${title}” back from ${payload.from}`,
      note: ({ payload }) => payload.note,
    },
    author: {
      asks: "work",
      says: ({ payload, actor, title }) =>
        `${actor ?? "Elenco"} called “${title}” back from ${payload.from}: it is in ${payload.name} again`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const pieceOverridden = event("piece.overridden", {
  payload: z.object({ what: z.string(), past: z.array(z.string()), note: z.string() }),
  says: ({ what, past }) => `${what}, past what its rules ask${past.length > 0 ? `: ${past.join(" ")}` : ""}`,
  tells: {
    author: {
      asks: "look",
      says: ({ payload, actor, title }) => `${actor ?? "Elenco"} moved “${title}” past its rules: ${payload.what}`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const piecePlaced = event("piece.placed", {
  payload: z.object({ changes: z.array(z.string()), note: z.string() }),
  says: ({ changes }) => `changed where it belongs: ${changes.join(", ")}`,
  tells: {
    author: {
      asks: "look",
      says: ({ payload, actor, title }) =>
        `${actor ?? "Elenco"} changed where “${title}” belongs: ${payload.changes.join(", ")}`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const pieceAuthorChanged = event("piece.author-changed", {
  payload: z.object({ person: z.string(), personId: z.string() }),
  says: ({ person }) => `made ${person} its author`,
  tells: { author: { asks: "work", says: ({ title }) => `“${title}” is with you now: you are its author` } },
});

export const pieceReassigned = event("piece.reassigned", {
  payload: z.object({ person: z.string(), personId: z.string(), for: z.string().nullish() }),
  says: (payload) => `passed it on to ${payload.person}${payload.for ? ` for ${payload.for}` : ""}`,
  tells: {
    assigned: {
      asks: "work",
      says: ({ payload, title }) => `“${title}” is with you now${payload.for ? ` for ${payload.for}` : ""}`,
    },
    author: { asks: "nothing", says: ({ payload, title }) => `“${title}” is with ${payload.person} now` },
  },
});

export const dueChanged = event("due.changed", {
  payload: z.object({ dueAt: z.number().nullable(), note: z.string() }),
  says: ({ dueAt }) => (dueAt === null ? "took its due date away" : "gave it another due date"),
  tells: {
    concerned: {
      asks: "look",
      says: ({ payload, title, when }) =>
        payload.dueAt === null ? `“${title}” has no due date any more` : `“${title}” is now due ${when(payload.dueAt)}`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const pieceNudged = event("piece.nudged", {
  payload: z.object({ people: z.array(z.string()), state: z.string(), dueAt: z.number().nullable() }),
  says: ({ people }) => `asked ${list(people)} where it is`,
  tells: {
    called: {
      asks: "decision",
      says: ({ actor, payload, params, title, when }) =>
        `${actor ?? "Somebody"} waits for your decision on “${title}”${params.for ? ` for ${params.for}` : ""}${payload.dueAt === null ? "" : `, due ${when(payload.dueAt)}`}`,
    },
    having: {
      asks: "work",
      says: ({ actor, payload, title, when }) =>
        `${actor ?? "Somebody"} waits for “${title}”${payload.dueAt === null ? "" : `, due ${when(payload.dueAt)}`}`,
    },
  },
});

/** Somebody was told that a piece is ready for them. */
export const piecePointedOut = event("piece.pointed-out", {
  payload: z.object({ people: z.array(z.string()), note: z.string() }),
  says: ({ people }) => `told ${list(people)} that it is ready`,
  tells: {
    told: {
      asks: "look",
      says: ({ actor, title }) => `${actor ?? "Elenco"}: “${title}” is ready for you`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const urgencyChanged = event("urgency.changed", {
  payload: z.object({ urgency: z.enum(["normal", "urgent"]) }),
  says: ({ urgency }) => (urgency === "urgent" ? "called it urgent" : "called it urgent no more"),
  tells: {
    concerned: {
      asks: "look",
      says: ({ actor, payload, title }) =>
        `${actor ?? "Elenco"} called “${title}” ${payload.urgency === "urgent" ? "urgent" : "urgent no more"}`,
    },
  },
});

export const pieceDeleted = event("piece.deleted", {
  payload: z.object({ note: z.string() }),
  says: () => "deleted it",
  tells: {
    concerned: {
      asks: "look",
      says: ({ actor, params }) => `${actor ?? "Elenco"} deleted “${params.title}”`,
      note: ({ payload }) => payload.note,
    },
  },
});

export const pieceRestored = event("piece.restored", {
  payload: z.object({}),
  says: () => "brought it back",
  tells: { author: { asks: "look", says: ({ actor, title }) => `${actor ?? "Elenco"} brought “${title}” back` } },
});

/** What an erased piece's entries on the ledger were: their numbers and the hashes they keep. */
export const pieceErased = event("piece.erased", {
  words: true,
  payload: z.object({
    note: z.string(),
    versions: z.array(z.object({ number: z.number(), hash: z.string() })),
    entries: z.array(z.object({ seq: z.number(), hash: z.string() })),
  }),
  says: ({ versions }) => `erased it for good, with ${counted(versions.length, "version")}`,
});

export const pieceRerouted = event("piece.rerouted", {
  payload: z.object({ ...state, revision: z.number(), moved: z.boolean() }),
  says: ({ moved, name }) => `the workflow changed: ${moved ? "now in" : "it stays in"} ${name}`,
});

/** What a change of a workflow means for one person, one piece or many. */
export const REROUTED: Telling<unknown> = {
  asks: "look",
  says: ({ params, title }) => {
    const { count, waits, state, workflow } = params as {
      count: number;
      waits: boolean;
      state: string;
      workflow?: string;
    };
    if (count > 1)
      return `${workflow ? `The workflow ${workflow}` : "A workflow"} was changed: ${count} pieces of yours moved or wait on you`;
    return waits ? `${state}: “${title}” waits on you` : `“${title}” is now in ${state}: its workflow was changed`;
  },
  note: ({ params }) => (params as { listed?: string[] }).listed?.join("\n") ?? "The workflow was changed.",
};

export const workflowBound = event("workflow.bound", {
  payload: z.object({
    workflow: z.string().optional(),
    name: z.string().optional(),
    state: z.string().optional(),
    scope: z.string().optional(),
    workflowId: z.string().nullish(),
    note: z.string().optional(),
  }),
  says: ({ name }) => `put it on ${name ?? "another line"}`,
  tells: { moved: REROUTED },
});

const point = { payload: z.object({ words: z.string() }) };
export const pointTicked = event("point.ticked", { ...point, says: ({ words }) => `ticked “${words}”` });
export const pointUnticked = event("point.unticked", {
  ...point,
  says: ({ words }) => `took the tick from “${words}”`,
});

export const revisionAbandoned = event("revision.abandoned", {
  words: true,
  payload: z.object({ ...state, version: z.number(), hash: z.string(), note: z.string() }),
  says: ({ version }) => `gave the revision up: version ${version} is as readers see it`,
  tells: {
    author: {
      asks: "nothing",
      says: ({ title }) => `The revision of “${title}” was given up; readers see what they saw`,
      note: ({ payload }) => payload.note,
    },
  },
});
