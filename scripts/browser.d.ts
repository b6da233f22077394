/** Debian's Chromium, as it runs here headless and without a network. */
export declare const CHROMIUM: {
  executablePath: string;
  args: string[];
};
