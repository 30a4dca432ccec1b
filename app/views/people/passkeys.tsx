import { useState } from "react";
import { Form, useSubmit } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Result } from "#core/refusal.ts";
import type { PasskeyRow } from "#server/people/passkeys.ts";
import { Refused } from "./refused.tsx";

/** Why a device gave nothing, in words; by the names Web Authentication gives them. */
const PROBLEMS: Record<string, string> = {
  NotAllowedError: "The device gave no passkey, or it took too long. Try again when you like.",
  AbortError: "The device gave no passkey. Try again when you like.",
  InvalidStateError: "This device keeps a passkey of yours already.",
};

/**
 * Has this browser's device give a passkey, or make one.
 *
 * @returns its answer as JSON, or why there is none
 */
async function byDevice(intent: "give" | "make"): Promise<Result<string>> {
  const problem = (sentence: string): Result<string> => ({ ok: false, refusal: { code: "device", sentence } });
  try {
    const body = new URLSearchParams({ intent });
    const asked = await (await fetch("/passkey", { method: "POST", body })).json();
    if (!asked.ok) return asked.refusal ? { ok: false, refusal: asked.refusal } : problem("Try again in a moment.");
    const { startAuthentication, startRegistration } = await import("@simplewebauthn/browser");
    const host = asked.value.rpId ?? asked.value.rp?.id;
    if (host && window.location.hostname !== host && !window.location.hostname.endsWith(`.${host}`))
      return problem(`Passkeys are kept for the name ${host}. Open Elenco under that name to use one.`);
    const start = intent === "give" ? startAuthentication : startRegistration;
    return { ok: true, value: JSON.stringify(await start({ optionsJSON: asked.value })) };
  } catch (error) {
    const { name, cause } = error as Error & { cause?: Error };
    return problem(PROBLEMS[cause?.name ?? name] ?? PROBLEMS[name] ?? "This browser cannot reach such a device here.");
  }
}

/** Signing in by a passkey, from any page of the door. @param to the address of the sign-in page, with where it leads */
export function EnterByPasskey({ to, busy }: { to: string; busy: boolean }) {
  const submit = useSubmit();
  const [problem, setProblem] = useState<string | null>(null);
  const enter = async () => {
    const given = await byDevice("give");
    setProblem(given.ok ? null : given.refusal.sentence);
    if (given.ok) await submit({ passkey: given.value }, { method: "post", action: to });
  };
  return (
    <div className="space-y-2">
      {problem && <Message>{problem}</Message>}
      <Button type="button" busy={busy} onClick={enter}>
        Sign in with a passkey
      </Button>
    </div>
  );
}

/** One's passkeys: what there are, one more, and taking one away. */
export function Passkeys({
  passkeys,
  answer,
  busy,
}: {
  passkeys: readonly PasskeyRow[];
  answer: FormAnswer | null;
  busy: boolean;
}) {
  const submit = useSubmit();
  const [device, setDevice] = useState<FormAnswer | null>(null);
  const add = async (name: string) => {
    const made = await byDevice("make");
    setDevice(made.ok ? null : { intent: "add-passkey", refusal: made.refusal, fields: {} });
    if (made.ok) await submit({ intent: "add-passkey", name, response: made.value }, { method: "post" });
  };
  return (
    <section aria-label="Passkeys">
      <h2 className="mb-3 border-b border-ink pb-1 text-15! font-bold">Passkeys</h2>
      <p className="mb-2 text-13 text-rail">
        {passkeys.length === 0 ? "None yet. " : ""}A passkey signs you in by this device or a security key, without
        password and code.
      </p>
      <Refused answer={answer} intent="drop-passkey" />
      <ul>
        {passkeys.map((one) => (
          <li key={one.id} className="flex items-center justify-between gap-3 border-b border-rule py-1.5 text-13">
            <span className="min-w-0">
              <b className="block truncate font-semibold">{one.name}</b>
              <span className="block truncate text-rail">
                since <When at={one.createdAt} /> ·{" "}
                {one.usedAt === null ? (
                  "not used yet"
                ) : (
                  <>
                    last used <When at={one.usedAt} />
                  </>
                )}
              </span>
            </span>
            <Form method="post" preventScrollReset>
              <Hidden name="intent" value="drop-passkey" />
              <Button look="quiet" name="id" value={one.id} busy={busy} aria-label={`Take it away: ${one.name}`}>
                Take it away
              </Button>
            </Form>
          </li>
        ))}
      </ul>
      <form
        className="mt-3 max-w-80 space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          void add(String(new FormData(event.currentTarget).get("name")));
        }}
      >
        <Refused answer={device ?? answer} intent="add-passkey" shown={["name"]} />
        <TextField
          label="What you call it"
          name="name"
          maxLength={60}
          defaultValue="This device"
          error={fieldErrors(answer, "add-passkey").name}
        />
        <Button busy={busy}>Add a passkey</Button>
      </form>
    </section>
  );
}
