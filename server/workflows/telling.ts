import type { Change } from "../write.ts";

/** What a person should know of one piece after a change of its workflow. */
interface Line {
  words: string;
  /** Whether it now waits on them. */
  waits: boolean;
  piece: { id: string; slug: string; title: string };
}

const LISTED = 20;

/** Gathers what a change of a workflow means for each person, however many pieces it is. */
export class Telling {
  private readonly lines = new Map<string, Line[]>();

  add(people: readonly string[], line: Line): void {
    for (const person of people) {
      const known = this.lines.get(person);
      if (known) known.push(line);
      else this.lines.set(person, [line]);
    }
  }

  /** Tells each person once: of one piece with its link, of several in a list. */
  send(change: Change, workflow: string): void {
    for (const [person, lines] of this.lines) {
      const [only] = lines as [Line];
      const kind = lines.some((line) => line.waits) ? "review" : "arrived";
      if (lines.length === 1) {
        change.tell({ to: [person], kind, headline: only.words, piece: only.piece, note: "The workflow was changed." });
        continue;
      }
      const listed = lines.slice(0, LISTED).map((line) => line.words);
      const rest = lines.length > LISTED ? [`and ${lines.length - LISTED} more`] : [];
      change.tell({
        to: [person],
        kind,
        headline: `The workflow ${workflow} was changed: ${lines.length} pieces of yours moved or wait on you`,
        note: [...listed, ...rest].join("\n"),
        piece: null,
      });
    }
  }
}
