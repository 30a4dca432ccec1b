import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Aside, Status } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { NamedField } from "#app/ui/select.tsx";
import { When } from "#app/views/time/clock.tsx";
import { counted } from "#core/words/say.ts";
import type { TakingInData } from "./taking-in-data.ts";

interface Props {
  page: TakingInData;
  answer: FormAnswer | null;
}

/** The feeds that are looked at for material, how each stands, and where one names another. */
export function Feeds(props: Props) {
  const { feeds } = props.page;
  const amiss = props.answer?.intent === "name-feed" && (props.answer.refusal !== null || "url" in props.answer.fields);
  return (
    <Part title="Feeds" about="looked at every hour" className="mt-8 max-w-220">
      {feeds.length === 0 && (
        <Aside className="mt-2">None yet. What a feed brings waits in the intake, to be taken or left.</Aside>
      )}
      <Rows aria-label="Feeds" className="">
        {feeds.map((one) => (
          <OneFeed key={one.id} feed={one} {...props} />
        ))}
      </Rows>
      {props.answer?.intent === "look-now" && !props.answer.refusal && (
        <Status className="mt-2">It is looked at now. What it said stands here when you come back to this page.</Status>
      )}
      <Fold summary="Look at another" className="mt-3" open={amiss}>
        <Naming key={feeds.length} {...props} />
      </Fold>
    </Part>
  );
}

function OneFeed({ feed, answer }: Props & { feed: TakingInData["feeds"][number] }) {
  const [looks, drops] = [useBusy("look-now"), useBusy("drop-feed")];
  return (
    <Row className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 py-1.5 text-13">
      <span className="min-w-0">
        <b className="font-semibold">{feed.name}</b>{" "}
        <span className="text-rail">
          {[feed.kind, feed.section].filter(Boolean).join(", ")} · brought{" "}
          {feed.brought === 0 ? "nothing yet" : counted(feed.brought, "thing")}
        </span>
        <span className="block text-rail wrap-anywhere">{feed.url}</span>
        <span className={`block ${feed.problem ? "text-red" : "text-rail"}`}>
          {feed.checkedAt === null ? (
            "Not looked at yet."
          ) : (
            <>
              Looked at <When at={feed.checkedAt} />
              {feed.problem && `: ${feed.problem} (${counted(feed.failures, "time")} in a row)`}
            </>
          )}
        </span>
      </span>
      <span className="flex gap-2">
        <ActionForm intent="look-now" answer={answer} sends={{ feedId: feed.id }} className="contents">
          <Button busy={looks} aria-label={`Look now: ${feed.name}`}>
            Look now
          </Button>
        </ActionForm>
        <ActionForm intent="drop-feed" answer={answer} sends={{ feedId: feed.id }} className="contents">
          <Button look="quiet" busy={drops} aria-label={`No more: ${feed.name}`}>
            No more
          </Button>
        </ActionForm>
      </span>
    </Row>
  );
}

function Naming({ page: { choices, standIn }, answer }: Props) {
  const busy = useBusy("name-feed");
  return (
    <ActionForm intent="name-feed" answer={answer} className="mt-3 max-w-160 space-y-4">
      <div className="grid gap-4 sm:grid-cols-2">
        <TextField label="What is it called" name="name" required maxLength={80} />
        <TextField
          label="Its address"
          name="url"
          required
          maxLength={500}
          placeholder="https://"
          hint={standIn ? `RSS, Atom or JSON Feed. The stand-in: ${standIn}` : "RSS, Atom or JSON Feed."}
        />
        <NamedField
          label="What it brings becomes a"
          name="kindId"
          none="whatever is chosen then"
          options={choices.kinds}
        />
        <NamedField
          label="For the section"
          name="sectionId"
          none="whichever is chosen then"
          options={choices.sections}
        />
        <NamedField label="Is given to" name="holderId" none="whoever judges there" options={choices.people} />
        <TextField
          label="What nobody takes goes after, in days"
          name="keepDays"
          inputMode="numeric"
          defaultValue="30"
          maxLength={3}
        />
      </div>
      <Button busy={busy}>Look at it from now on</Button>
    </ActionForm>
  );
}
