import { existsSync } from 'node:fs';

/** Debian's Chromium, as it runs here headless and without a network. */
export const CHROMIUM = {
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--autoplay-policy=no-user-gesture-required',
  ],
};

const SHELL = '/usr/bin/chromium-headless-shell';

/**
 * The same Chromium without the windows, tabs and menus around the page: a test takes two thirds of the time in it. What
 * is measured or made a picture of uses the whole browser, as a teacher does.
 */
export const CHROMIUM_FOR_TESTS =
  existsSync(SHELL) && !process.env.CHROMIUM ? { ...CHROMIUM, executablePath: SHELL } : CHROMIUM;
