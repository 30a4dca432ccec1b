import { Button } from "#app/ui/button.tsx";
import { Page } from "#app/ui/page.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Picture } from "#core/text/manuscript.ts";
import { isFact, type Names, sayValue } from "#core/text/values.ts";
import type { SignedPage } from "#server/review/signed.ts";
import { Reading } from "./text.tsx";

/** A text as it was signed, and by whom: to be printed and put away. */
export function SignedView({ page }: { page: SignedPage & { names: Names } }) {
  const { title, slug, round, fields, version, signatures, names } = page;
  const standing = signatures.filter((one) => one.withdrawnAt === null);
  return (
    <Page
      wide={false}
      back={{ to: `/pieces/${slug}`, name: title, here: "Signed page" }}
      title={version.content.title}
      about={`Version ${version.number}, round ${round}, ${standing.length === 0 ? "no signature stands" : `signed by ${standing.length}`}.`}
      act={
        <Button type="button" look="plain" className="no-print" onClick={() => window.print()}>
          Print
        </Button>
      }
    >
      <article className="mt-5">
        <dl className="mb-6 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1 text-13">
          {fields
            .filter((field) => isFact(field) && sayValue(field, version.content, names) !== "")
            .map((field) => (
              <div key={field.key} className="contents">
                <dt className="text-rail">{field.name}</dt>
                <dd className="break-words">{sayValue(field, version.content, names)}</dd>
              </div>
            ))}
        </dl>
        {fields
          .filter(({ key, type }) => (type === "manuscript" || type === "image") && version.content.fields[key])
          .map(({ key }) => (
            <Reading key={key} value={version.content.fields[key] as Picture} />
          ))}
      </article>
      <section aria-label="Signatures" className="mt-8 border-t-2 border-ink pt-3">
        <h2>Signatures</h2>
        <ul>
          {signatures.map(({ id, name, signature, hash, at, withdrawnAt }) => (
            <li key={id} className="border-b border-rule py-3 text-13">
              <p className={`font-serif text-26 italic ${withdrawnAt ? "text-rail line-through" : ""}`}>{signature}</p>
              <p>
                {name}, <When at={at} />
                {withdrawnAt && (
                  <b className="font-semibold">
                    , withdrawn <When at={withdrawnAt} />
                  </b>
                )}
              </p>
              <p className="text-12 wrap-anywhere text-rail">{hash}</p>
            </li>
          ))}
        </ul>
        <p className="mt-3 text-12 text-rail">
          Each signature is for exactly this text, by the SHA-256 of its canonical form. <code>elenco verify</code>{" "}
          compares them with the texts and the record.
        </p>
      </section>
    </Page>
  );
}
