import { Outlet, useRouteError, useRouteLoaderData } from "react-router";
import type { loader as root } from "#app/root.tsx";
import { Page } from "#app/ui/page.tsx";
import { Trouble } from "#app/views/frame/trouble.tsx";

export default function InFrame() {
  return <Outlet />;
}

/** What goes wrong in a page is said in its place; the frame stays. */
export function ErrorBoundary() {
  const requestId = useRouteLoaderData<typeof root>("root")?.requestId;
  return (
    <Page wide={false}>
      <Trouble error={useRouteError()} requestId={requestId} />
    </Page>
  );
}
