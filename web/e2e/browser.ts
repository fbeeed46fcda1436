/** How Debian's Chromium is started: headless, no sandbox (we may be root), and without calls to anywhere. */
export const CHROMIUM = {
  executablePath: process.env.ZESTY_CHROMIUM ?? "/usr/bin/chromium",
  chromiumSandbox: false,
  args: [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
};
