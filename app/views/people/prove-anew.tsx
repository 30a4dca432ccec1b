import { type KeyboardEvent, useEffect, useState } from "react";
import { useFetcher } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";

/** The form that was sent last, and by which of its buttons: the act that waits for the password. */
let sent: { form: HTMLFormElement; by: HTMLElement | null } | null = null;

if (typeof document !== "undefined")
  document.addEventListener(
    "submit",
    ({ target, submitter }) => {
      if (target instanceof HTMLFormElement) sent = { form: target, by: submitter };
    },
    true,
  );

/** Asks for one's password in place, and then does what was refused for want of it. It may stand inside the very form. */
export function ProveAnew() {
  const fetcher = useFetcher<FormAnswer>();
  const [password, setPassword] = useState("");
  const { data } = fetcher;
  const proved = data !== undefined && !data.refusal && Object.keys(data.fields).length === 0;
  useEffect(() => {
    if (proved && sent?.form.isConnected) sent.form.requestSubmit(sent.by?.isConnected ? sent.by : undefined);
  }, [proved]);
  const prove = () => fetcher.submit({ password }, { method: "post", action: "/sign-in/again" });
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== "Enter") return;
    event.preventDefault();
    prove();
  };
  if (proved) return <p role="status">Thank you. It is done now; if nothing happens, do it once more.</p>;
  return (
    <div className="mt-2 flex max-w-80 items-end gap-2">
      <TextField
        label="Your password"
        type="password"
        autoComplete="current-password"
        autoFocus
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        onKeyDown={onKeyDown}
        error={data?.refusal?.sentence ?? data?.fields.password}
      />
      <Button type="button" look="go" disabled={fetcher.state !== "idle"} onClick={prove}>
        Go on
      </Button>
    </div>
  );
}
