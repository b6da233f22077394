/** A text that is being typed and is no record yet: kept as it grows, also when the window closes within the second. */
import { readSetting, saveSetting } from './store';

/** Where the browser's small storage keeps what the database had not taken when the window was left. */
const IN_LOCAL = 'velvet-porch draft ';

/** What was typed and is not stored yet, by its key. */
const waiting = new Map<string, string>();

/** Keeps a draft. Throws what the database says where it is refused. */
export async function keepDraft(key: string, text: string): Promise<void> {
  waiting.set(key, text);
  await saveSetting(key, text);
  if (waiting.get(key) !== text) return;
  waiting.delete(key);
  localStorage.removeItem(IN_LOCAL + key);
}

/** The draft that was typed last; empty where there is none. */
export async function readDraft(key: string): Promise<string> {
  const left = localStorage.getItem(IN_LOCAL + key);
  if (left === null) return readSetting(key, '');
  await saveSetting(key, left);
  localStorage.removeItem(IN_LOCAL + key);
  return left;
}

if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    for (const [key, text] of waiting) localStorage.setItem(IN_LOCAL + key, text);
  });
