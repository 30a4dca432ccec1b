import type { ComponentProps, ReactNode } from "react";
import { Link } from "react-router";

/** A page's own room, its heading on top and what one does there beside it. */
export function Page({
  title,
  about,
  act,
  wide = true,
  back,
  children,
}: {
  /** Its heading; left out where the page brings its own. */
  title?: ReactNode;
  about?: ReactNode;
  act?: ReactNode;
  /** Whether it takes the whole width; otherwise it is as wide as one reads. */
  wide?: boolean;
  back?: { to: string; name: string; here?: string };
  children: ReactNode;
}) {
  return (
    <div className={`px-4 py-5 md:px-6 ${wide ? "" : "max-w-200"}`}>
      {back && <Back {...back} />}
      {title && (
        <div className="flex flex-wrap items-start gap-3">
          <div className="mr-auto min-w-0">
            <h1 className="wrap-anywhere">{title}</h1>
            {about && <p className="mt-1 max-w-160 text-13 text-rail">{about}</p>}
          </div>
          {act}
        </div>
      )}
      {children}
    </div>
  );
}

/** Where one came from; Esc takes it too. */
export const Back = ({ to, name, here }: { to: string; name: string; here?: string }) => (
  <p className="mb-1 text-13 text-rail">
    <Link data-back to={to} className="hover:text-blue">
      {name}
    </Link>
    {here && ` / ${here}`}
  </p>
);

/** A list that makes room for what is chosen of it. @param roomy whether one reads and writes in what is beside it: on a narrow page it stands alone then */
export function Split({
  beside,
  roomy = false,
  children,
}: {
  beside: ReactNode;
  roomy?: boolean;
  children: ReactNode;
}) {
  const columns = roomy ? "lg:grid-cols-[minmax(0,1fr)_460px]" : "lg:grid-cols-[minmax(0,1fr)_316px]";
  return (
    <div className={beside ? `grid grid-cols-[minmax(0,1fr)] ${columns}` : ""}>
      <div className={`min-w-0 px-4 py-5 md:px-6 ${beside && roomy ? "max-lg:hidden" : ""}`}>{children}</div>
      {beside}
    </div>
  );
}

/** What is chosen, beside its list. */
export function Beside({ children, ...head }: { title: ReactNode; leave: string; children: ReactNode }) {
  return (
    <aside className="border-rule px-4 py-5 lg:border-l">
      <PanelHead {...head} />
      {children}
    </aside>
  );
}

/** What a panel is about, and the way back; Esc takes it too. */
export function PanelHead({ title, leave }: { title: ReactNode; leave: string }) {
  return (
    <div className="mb-3 flex items-baseline justify-between gap-3">
      <h2 className="min-w-0 break-words text-15! font-bold">{title}</h2>
      <Link data-back to={leave} preventScrollReset className="inline-block min-h-6 text-13 text-blue">
        Leave
      </Link>
    </div>
  );
}

/** A part of a page under a heading and a line. */
export const Part = ({
  title,
  about,
  className = "mt-5",
  children,
  ...rest
}: Omit<ComponentProps<"section">, "title"> & { title: ReactNode; about?: ReactNode }) => (
  <section className={className} {...rest}>
    <h2 className="flex gap-2 border-b border-ink pb-1.5">
      {title}
      {about && <span className="font-normal text-rail">{about}</span>}
    </h2>
    {children}
  </section>
);

/** Things below one another, evenly. */
export const Stack = ({ gap = "space-y-3", children }: { gap?: string; children: ReactNode }) => (
  <div className={gap}>{children}</div>
);
