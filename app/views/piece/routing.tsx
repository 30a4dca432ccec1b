import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { PickField } from "#app/ui/combobox.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Hidden, TextArea } from "#app/ui/field.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import type { Choice } from "#server/pieces/offers.ts";
import { Panelled, type PanelProps, PieceForm, sayLoad } from "./framed.tsx";

/** Who has a piece, who reviews it and until when: passed on by whoever may. */
export function Routing(props: PanelProps) {
  const { page } = props;
  const { round, routing, assigned } = page;
  const sitting = round?.seats.filter((seat) => seat.status !== "void").map((seat) => seat.personId) ?? [];
  const free = routing?.reviewers.filter((one) => !sitting.includes(one.id)) ?? [];
  return (
    <Panelled title="Who has it, and until when">
      <div className="divide-y divide-rule [&>*]:py-3">
        {round?.stuck && <p className="text-13 font-semibold text-red">The review is stuck. {round.stuck}</p>}
        {round?.seats
          .filter((seat) => seat.status !== "decided" && seat.status !== "closed")
          .map((seat) => (
            <Seat key={seat.id} seat={seat} people={free} {...props} />
          ))}
        {assigned.map((one) => (
          <PassOn
            key={one.id}
            from={one}
            people={routing?.readers.filter((who) => who.id !== one.id) ?? []}
            {...props}
          />
        ))}
        {round && <AddSeat people={free} {...props} />}
        {page.inFlight && <AnotherDue {...props} />}
      </div>
    </Panelled>
  );
}

type SeatShown = NonNullable<PanelProps["page"]["round"]>["seats"][number];

function Seat({ seat, people, ...props }: PanelProps & { seat: SeatShown; people: Choice[] }) {
  const busy = useBusy();
  const why = seat.void ?? seat.flag;
  return (
    <PieceForm intent="seat-to" {...props}>
      <Hidden name="seatId" value={seat.id} />
      <Whom
        label={`${seat.person}${seat.for ? ` for ${seat.for}` : ""} sits: pass the seat on to`}
        hint={why ? `${why}.` : undefined}
        people={people}
      />
      <Button busy={busy} disabled={people.length === 0}>
        Pass the seat on
      </Button>
    </PieceForm>
  );
}

function PassOn({ from, people, ...props }: PanelProps & { from: { id: string; name: string }; people: Choice[] }) {
  const busy = useBusy();
  return (
    <PieceForm intent="pass-on" {...props}>
      <Hidden name="from" value={from.id} />
      <Whom label={`${from.name} has it: pass it on to`} people={people} />
      <Button busy={busy} disabled={people.length === 0}>
        Pass it on
      </Button>
    </PieceForm>
  );
}

function AddSeat({ people, ...props }: PanelProps & { people: Choice[] }) {
  const busy = useBusy();
  return (
    <PieceForm intent="add-seat" {...props}>
      <Whom label="One reviewer more" people={people} />
      <Button busy={busy} disabled={people.length === 0}>
        Add the seat
      </Button>
    </PieceForm>
  );
}

function Whom({ label, hint, people }: { label: string; hint?: string | undefined; people: Choice[] }) {
  const clock = useClock();
  if (people.length === 0) return <p className="text-13 text-rail">{label}: nobody else may just now.</p>;
  return (
    <PickField
      label={label}
      hint={hint}
      name="personId"
      placeholder="whom"
      choices={people.map((one) => ({ key: one.id, name: one.name, about: sayLoad(one, clock) }))}
    />
  );
}

function AnotherDue(props: PanelProps) {
  const busy = useBusy();
  const { zone } = useClock();
  const { dueAt } = props.page.row;
  return (
    <PieceForm intent="due" {...props}>
      <MomentField
        label={`Due (${zone})`}
        name="dueAt"
        defaultValue={dueAt ? toLocalInput(dueAt, zone) : ""}
        hint="Those who have it, and its author, are told."
      />
      <TextArea label="Note" name="note" maxLength={4000} />
      <Button busy={busy}>Change the due date</Button>
    </PieceForm>
  );
}
