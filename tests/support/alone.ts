/**
 * A process of tests ends by itself once the run is over: what keeps it going then was left open by
 * one of its files, and is named. Files share a process, so each also begins with the same environment.
 */
const GRACE = 5_000;

process.on("disconnect", () => {
  setTimeout(() => {
    console.error(
      `left open by a test, so that its process does not end: ${process.getActiveResourcesInfo().join(", ")}`,
    );
    process.exit(1);
  }, GRACE).unref();
});
