import { type ReactNode, useState } from "react";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, IconButton, TextLink } from "#app/ui/button.tsx";
import { Combobox, PickField } from "#app/ui/combobox.tsx";
import { DayField, MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, FieldSet, NumberField, Radio, TextArea, TextField } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Dialog, Menu, MenuAct, MenuChoice, MenuNote, MenuRule, Popover, Sheet } from "#app/ui/layers.tsx";
import { Aside, Empty, Hint, Message, Progress, Status } from "#app/ui/message.tsx";
import { Beside, Page, Part, Split, Stack } from "#app/ui/page.tsx";
import { Row, Rows, useRowKeys } from "#app/ui/rows.tsx";
import { Option, OptionGroup, SelectField } from "#app/ui/select.tsx";
import { Sortable } from "#app/ui/sortable.tsx";
import { Switch } from "#app/ui/switch.tsx";
import { Tabs } from "#app/ui/tabs.tsx";
import { Toasts, useToast } from "#app/ui/toast.tsx";
import { Tooltips } from "#app/ui/tooltip.tsx";
import { DatesOf } from "#app/views/frame/dates.tsx";
import { calendarSchema } from "#core/time/calendar-format.ts";

/** A Tuesday at ten, in a week with one closed day. */
const NOW = Date.UTC(2026, 10, 24, 9);
const HOURS: [string, string][] = [["09:00", "17:30"]];
const CALENDAR = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: { mon: HOURS, tue: HOURS, wed: HOURS, thu: HOURS, fri: HOURS },
  closed: ["2026-12-08"],
});
const HUTS = ["Rifugio Casere", "Rifugio Passo Grigio", "Malga Brenna", "Bivacco Tre Fonti"];
const LONG =
  "A name that goes on and on, from the bridge below Casere to the last larch above the lake, and does not end";

const noop = () => undefined;

/** Everything a screen is made of, in every state it can be in. */
export function SurfaceView() {
  return (
    <DatesOf now={NOW} zone="Europe/Rome" calendar={CALENDAR}>
      <Tooltips>
        <Toasts>
          <main>
            <Page title="Surface" about="What every screen is made of, in every state.">
              <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-x-12 gap-y-8 md:grid-cols-[repeat(2,minmax(0,1fr))]">
                <Buttons />
                <Fields />
                <Choices />
                <DatesPart />
                <Layers />
                <Words />
                <Lists />
                <Forms />
              </div>
            </Page>
            <Split
              beside={
                <Beside title="What is chosen" leave="#">
                  <Aside>It stands beside its list.</Aside>
                </Beside>
              }
            >
              <Part title="A list" about="that makes room" className="">
                <Aside>For what is chosen of it.</Aside>
              </Part>
            </Split>
          </main>
        </Toasts>
      </Tooltips>
    </DatesOf>
  );
}

const Line = ({ children }: { children: ReactNode }) => (
  <div className="mt-2 flex flex-wrap items-center gap-2">{children}</div>
);

function Buttons() {
  return (
    <Part title="Buttons" className="">
      {(["plain", "go", "quiet", "word"] as const).map((look) => (
        <Line key={look}>
          <Button look={look} type="button">
            {look}
          </Button>
          <Button look={look} type="button" busy>
            {look}, busy
          </Button>
          <Button look={look} type="button" disabled>
            {look}, off
          </Button>
        </Line>
      ))}
      <Line>
        <ButtonLink to="#">A link</ButtonLink>
        <TextLink to="#">a link in a sentence</TextLink>
        <IconButton label="Smaller" keys="Ctrl −">
          −
        </IconButton>
        <IconButton label="Bold" aria-pressed>
          B
        </IconButton>
      </Line>
    </Part>
  );
}

function Fields() {
  return (
    <Part title="Fields" className="">
      <Stack>
        <TextField label="A line" placeholder="what it is for" hint="What one should know." />
        <TextField label="A line that is wrong" defaultValue="soon" error="This is no address." />
        <TextField label="A line that is off" defaultValue="as it was" disabled />
        <TextField label="A line that suggests" suggests={HUTS} />
        <TextArea label="A few sentences" defaultValue={LONG} />
        <NumberField label="A number" unit="km" defaultValue="12.5" />
        <FileDrop label="A file" hint="At most 20 MB." />
      </Stack>
    </Part>
  );
}

function Choices() {
  const [on, setOn] = useState(true);
  const [words, setWords] = useState<string | null>(null);
  const [hut, setHut] = useState("");
  const found = HUTS.filter((one) => one.toLowerCase().includes((words ?? "").toLowerCase()));
  return (
    <Part title="Choices" className="">
      <Stack>
        <SelectField label="One of a few" defaultValue="b">
          <Option value="">choose</Option>
          <OptionGroup label="Huts">
            <Option value="a">{HUTS[0]}</Option>
            <Option value="b">{HUTS[1]}</Option>
          </OptionGroup>
          <Option value="c" disabled>
            one that is full
          </Option>
          <Option value="d">{LONG}</Option>
        </SelectField>
        <SelectField label="One that is wrong" error="Choose one.">
          <Option value="">choose</Option>
          <Option value="a">{HUTS[0]}</Option>
        </SelectField>
        <PickField
          label="One of many"
          name="hut"
          placeholder="type to find"
          choices={HUTS.map((name) => ({ key: name, name, about: "free" }))}
        />
        <div>
          <p className="mb-1 text-13 font-semibold">One that is asked for</p>
          <Combobox
            aria-label="One that is asked for"
            chosen={hut}
            suggestions={found.map((name) => ({ key: name, name }))}
            none="Nothing is called so."
            onType={setWords}
            onChoose={(one) => setHut(one?.name ?? "")}
          />
        </div>
        <FieldSet legend="Several of a few">
          <Checkbox defaultChecked>chosen</Checkbox>
          <Checkbox>not chosen</Checkbox>
          <Checkbox disabled>off</Checkbox>
        </FieldSet>
        <FieldSet legend="One of two">
          <Radio name="two" defaultChecked>
            this
          </Radio>
          <Radio name="two">that</Radio>
        </FieldSet>
        <Switch checked={on} onChange={setOn}>
          acts at once
        </Switch>
      </Stack>
    </Part>
  );
}

function DatesPart() {
  return (
    <Part title="Dates" className="">
      <Stack>
        <DayField label="A day" defaultValue="2026-11-26" hint="tomorrow, in 3 wd, 26.11." />
        <MomentField label="A moment" defaultValue="2026-11-26T17:30" hint="tomorrow 9, fri 17:30" />
        <MomentField label="A moment that is none" defaultValue="soon" error="This is no date and time." />
        <DayField label="A day that is off" defaultValue="2026-12-08" disabled />
      </Stack>
    </Part>
  );
}

function Layers() {
  const [open, setOpen] = useState<"dialog" | "sheet" | null>(null);
  const [rows, setRows] = useState("close");
  return (
    <Part title="Layers" className="">
      <Line>
        <Button type="button" onClick={() => setOpen("dialog")}>
          A dialog
        </Button>
        <Button type="button" onClick={() => setOpen("sheet")}>
          A sheet
        </Button>
        <Menu trigger={<Button type="button">A menu</Button>}>
          <MenuNote>Managing editor</MenuNote>
          <MenuAct onAct={noop}>Do it</MenuAct>
          <MenuRule />
          <MenuChoice
            label="Rows"
            value={rows}
            choices={[
              ["close", "Close"],
              ["roomy", "Roomy"],
            ]}
            onChoose={setRows}
          />
        </Menu>
        <Popover label="More" trigger={<Button type="button">A popover</Button>}>
          <Aside>It stands at its button.</Aside>
        </Popover>
        <Toasting />
      </Line>
      <Dialog title="Before it is gone" open={open === "dialog"} onLeave={() => setOpen(null)}>
        <Stack>
          <TextField label="Why" />
          <Button type="button" look="go" onClick={() => setOpen(null)}>
            Do it
          </Button>
        </Stack>
      </Dialog>
      <Sheet title="What was said" open={open === "sheet"} onLeave={() => setOpen(null)}>
        <Aside>The text stays in view above it.</Aside>
      </Sheet>
    </Part>
  );
}

function Toasting() {
  const say = useToast();
  return (
    <Button type="button" onClick={() => say("It is moved to Friday.", noop)}>
      A toast
    </Button>
  );
}

function Words() {
  return (
    <Part title="Words" className="">
      <Stack>
        <Message more={["The checklist is open.", LONG]}>It cannot reach readers yet.</Message>
        <Hint>A change makes two approvals void.</Hint>
        <Status>Kept.</Status>
        <Progress says="Bringing the pictures: 3 of 8" done={3} all={8} />
        <Progress says="Looking …" />
        <Fold summary="What is seldom needed">
          <Aside>It stands behind a word.</Aside>
        </Fold>
        <Empty act={<TextLink to="#">Begin one</TextLink>}>Nothing is here yet.</Empty>
      </Stack>
    </Part>
  );
}

function Lists() {
  const [order, setOrder] = useState(HUTS);
  useRowKeys();
  return (
    <Part title="Lists" className="">
      <Rows aria-label="Rows">
        {[...HUTS, LONG].map((name) => (
          <Row key={name} className="flex min-h-9 items-center justify-between gap-3">
            <a href="#row" className="min-w-0 truncate font-semibold hover:text-blue">
              {name}
            </a>
            <span className="shrink-0 text-13 text-rail">in 2 days</span>
          </Row>
        ))}
      </Rows>
      <div className="mt-4">
        <Sortable
          label="In one’s own order"
          items={order}
          keyOf={(name) => name}
          nameOf={(name) => name}
          onMove={(from, to) => setOrder(order.toSpliced(from, 1).toSpliced(to, 0, order[from] ?? ""))}
        >
          {(name) => <p className="py-2 text-13">{name}</p>}
        </Sortable>
      </div>
      <div className="mt-4">
        <Tabs
          label="Faces"
          tabs={[
            { key: "one", name: "As readers see it", shows: <Aside>The page.</Aside> },
            { key: "two", name: "In the feed", shows: <Aside>The entry.</Aside> },
          ]}
        />
      </div>
    </Part>
  );
}

function Forms() {
  const refused = {
    intent: "note",
    fields: { note: "Say why it is sent back." },
    refusal: { sentence: "It is not yours to send back.", missing: ["Two comments are open."], who: ["Ilda Marenzi"] },
  };
  return (
    <Part title="A form that was refused" className="">
      <div className="mt-2">
        <ActionForm intent="note" label="Send it back" answer={refused}>
          <TextArea label="Note" name="note" defaultValue="What was typed stays." />
          <Button look="go">Send it back</Button>
        </ActionForm>
      </div>
    </Part>
  );
}
