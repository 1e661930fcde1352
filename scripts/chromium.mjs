import { existsSync } from 'node:fs';

/** The shell without a window needs two thirds of the time of the whole browser, and has the same engine. */
const PLACES = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];

/** Where Chromium is: what `CHROMIUM` names, or what Debian installs; undefined when there is none. */
export const chromiumPath = () => [process.env.CHROMIUM, ...PLACES].find((path) => path && existsSync(path));
