import type { FormAnswer } from "#app/form-answer.ts";
import { Hidden } from "#app/ui/field.tsx";
import type { Pending } from "#server/people/second-factor.ts";

/** What setting the second factor up answers: its recovery codes, or the picture once more. */
export type SecondFactorAnswer = FormAnswer & { codes?: string[]; pending?: Pending };

/** What to give one's authenticator: the picture for its camera, and the same in letters. */
export function Authenticator({ pending, why }: { pending: Pending; why: string }) {
  return (
    <div className="space-y-3 text-13">
      <p>{why} Point an authenticator app at this picture, then type the six digits it shows.</p>
      <img src={pending.picture} alt="The secret for an authenticator, as a code for its camera" className="size-44" />
      <p className="text-rail">
        Without a camera, type this into it:
        <code className="mt-1 block font-mono text-ink">{pending.secret.match(/.{1,4}/g)?.join(" ")}</code>
      </p>
      <Hidden name="secret" value={pending.secret} />
    </div>
  );
}

/** Codes for the day the authenticator is lost; shown once. */
export function RecoveryCodes({ codes }: { codes: readonly string[] }) {
  return (
    <div className="text-13">
      <p>
        Should your authenticator be lost, each of these signs you in once. They are not shown again: write them down or
        print this page.
      </p>
      <ul
        aria-label="Recovery codes"
        className="mt-3 grid grid-cols-2 gap-x-6 gap-y-1 border-y border-ink py-3 font-mono"
      >
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
    </div>
  );
}
