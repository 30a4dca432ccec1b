/** How Debian’s Chromium without windows is started: without a sandbox, since tests run as root, and asking nothing of the network. */
export const chromiumOptions = {
  executablePath: "/usr/bin/chromium-headless-shell",
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
};
