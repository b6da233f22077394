/** Debian's Chromium, as it runs here headless and without a network. */
export declare const CHROMIUM: {
  executablePath: string;
  args: string[];
};

/** Without the windows around the page, where the machine has it so. */
export declare const CHROMIUM_FOR_TESTS: typeof CHROMIUM;
