/** Tells this window's screens and all other windows of this browser which records were saved or taken away. */
import type { Kind } from '#core/records';

export interface Saved {
  kind: Kind;
  id: string;
  /** Its new revision; undefined when the record was taken away. */
  revision?: number;
}

type Listener = (saved: readonly Saved[]) => void;
const listeners = new Set<Listener>();
// Where there is no channel (an old browser) a save is still guarded: what another window saved is found out then.
const channel =
  typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('velvet-porch-records');
const tell = (saved: readonly Saved[]) => {
  for (const listener of listeners) listener(saved);
};
channel?.addEventListener('message', event => tell(event.data as Saved[]));
// Outside a browser an open channel would keep the process alive.
(channel as { unref?: () => void } | undefined)?.unref?.();

export function announce(saved: readonly Saved[]): void {
  if (!saved.length) return;
  channel?.postMessage(saved);
  tell(saved);
}

/** @returns what ends the listening */
export function onSaved(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
