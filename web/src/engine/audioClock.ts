/** Seconds within which a device's clock begins to run. */
const BEGINS_WITHIN = 5;

/**
 * Whether an audio clock begins to run. A device that is busy, or has gone, never says so: the browser waits for it without
 * end.
 */
export async function begins(context: AudioContext): Promise<boolean> {
  let waiting: ReturnType<typeof setTimeout> | undefined;
  const tooLong = new Promise<boolean>(resolve => {
    waiting = setTimeout(resolve, BEGINS_WITHIN * 1000, false);
  });
  try {
    return await Promise.race([context.resume().then(() => true), tooLong]);
  } finally {
    clearTimeout(waiting);
  }
}
