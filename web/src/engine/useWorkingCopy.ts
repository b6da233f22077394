import { useCallback, useEffect, useRef, useState } from 'react';
import { type Arrangement, type History, redo, startHistory, undo } from '#core/score';
import type { StoredArrangement } from '../data/db';
import { queryClient } from '../data/queries';
import { ConflictError, saveArrangement } from '../data/repository';

export type SaveState = 'saved' | 'saving' | 'failed';

/** Milliseconds after the last edit at which it is saved. */
const SAVE_AFTER = 500;

/** The arrangement that is worked on: its history, saved by itself within a second of the last edit. */
export function useWorkingCopy(stored: StoredArrangement) {
  const [history, setHistory] = useState<History>(() => startHistory(stored.arrangement));
  const [saveState, setSaveState] = useState<SaveState>('saved');
  const [trouble, setTrouble] = useState<string>();
  const [conflict, setConflict] = useState<StoredArrangement>();
  const revision = useRef(stored.revision);
  const savedContent = useRef<Arrangement>(stored.arrangement);
  const latest = useRef(history.present);
  const chain = useRef<Promise<void>>(Promise.resolve());
  latest.current = history.present;

  const save = useCallback((force = false): Promise<void> => {
    // One write after the other, each of the newest content.
    chain.current = chain.current.then(async () => {
      const content = latest.current;
      if (content === savedContent.current && !force) return;
      try {
        revision.current = await saveArrangement(content, revision.current, force);
        savedContent.current = content;
        setSaveState(latest.current === content ? 'saved' : 'saving');
        setTrouble(undefined);
        await queryClient.invalidateQueries({ queryKey: ['shelf'] });
        await queryClient.invalidateQueries({ queryKey: ['arrangements', content.tuneId] });
      } catch (cause) {
        setSaveState('failed');
        if (cause instanceof ConflictError) setConflict(cause.stored);
        else setTrouble(cause instanceof Error ? cause.message : 'the browser refused to store it');
      }
    });
    return chain.current;
  }, []);

  useEffect(() => {
    if (history.present === savedContent.current) return;
    setSaveState('saving');
    const timer = setTimeout(() => void save(), SAVE_AFTER);
    return () => clearTimeout(timer);
  }, [history.present, save]);

  // Leaving the screen or the tab saves what the timer has not.
  useEffect(() => {
    const flush = () => void save();
    window.addEventListener('pagehide', flush);
    document.addEventListener('visibilitychange', flush);
    return () => {
      window.removeEventListener('pagehide', flush);
      document.removeEventListener('visibilitychange', flush);
      flush();
    };
  }, [save]);

  return {
    history,
    arrangement: history.present,
    setHistory,
    undo: () => setHistory(undo),
    redo: () => setHistory(redo),
    saveState,
    trouble,
    conflict,
    /** Two windows changed the same arrangement: keep this one's or the other's. */
    resolveConflict: (keep: 'mine' | 'theirs') => {
      if (conflict && keep === 'theirs') {
        revision.current = conflict.revision;
        savedContent.current = conflict.arrangement;
        setHistory(startHistory(conflict.arrangement));
        setSaveState('saved');
      } else if (conflict) void save(true);
      setConflict(undefined);
    },
  };
}
