/** What screens ask of stored data: lists through queries, single records through their working copies. */
import { QueryClient, useMutation, useQuery } from '@tanstack/react-query';
import { useSyncExternalStore } from 'react';
import { freshOutline } from '#core/lesson/choices';
import type { Kind } from '#core/records';
import { KINDS } from '#core/records/kind';
import { shelfAhead } from './ahead';
import { beginsAs, type Copy, type CopyState, copyOf } from './copies';
import * as store from './store';
import { onSaved } from './windows';

/** Data is local: it only changes when a window changes it, and then says so. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: { staleTime: Number.POSITIVE_INFINITY, networkMode: 'always', retry: false },
    mutations: { networkMode: 'always' },
  },
});

beginsAs('lessons', id => ({ id, done: [] }));
beginsAs('outlines', freshOutline);
beginsAs('sheets', id => ({ id, choices: {} }));

onSaved(saved => {
  for (const kind of new Set(saved.map(record => record.kind)))
    void queryClient.invalidateQueries({ queryKey: [kind] });
  if (!saved.some(record => record.kind === 'tunes' || record.kind === 'arrangements')) return;
  void queryClient.invalidateQueries({ queryKey: ['shelf'] });
  void queryClient.invalidateQueries({ queryKey: ['arrangements'] });
});

const SHELF = { queryKey: ['shelf'], queryFn: () => shelfAhead() ?? store.readShelf() };

export function useShelf() {
  return useQuery(SHELF);
}

/** Longest wait for what the first screen shows, in ms: it is drawn once with it rather than twice. */
const LONGEST_WAIT = 150;

/** Done when what the first screen shows is there, or takes too long to be waited for. */
export async function firstScreenRead(): Promise<void> {
  if (location.pathname !== '/') return;
  await Promise.race([
    queryClient.prefetchQuery(SHELF),
    new Promise(resolve => setTimeout(resolve, LONGEST_WAIT)),
  ]);
}

export function useSetAside() {
  return useQuery({ queryKey: ['shelf', 'set aside'], queryFn: store.readSetAside });
}

export function useArrangements(tuneId: string) {
  return useQuery({
    queryKey: ['arrangements', tuneId],
    queryFn: () => store.readArrangementsOf(tuneId),
  });
}

/** The named states of an arrangement, the newest first. */
export function useSnapshots(of: string) {
  return useQuery({ queryKey: ['snapshots', of], queryFn: () => store.readSnapshots(of) });
}

/** The pupils by name. */
export function usePupils() {
  return useQuery({
    queryKey: ['pupils'],
    queryFn: async () => (await store.readAllOf('pupils')).sort((a, b) => a.name.localeCompare(b.name)),
  });
}

/** The pieces of a pupil, the newest first; of all where none is named. */
export function useLearnings(pupilId?: string) {
  return useQuery({
    queryKey: ['learnings', pupilId],
    queryFn: async () => (await store.readAllOf('learnings', pupilId)).sort((a, b) => b.since - a.since),
  });
}

/** Everything that was practised, the newest first. */
export function useSittings() {
  return useQuery({
    queryKey: ['sittings'],
    queryFn: async () => (await store.readAllOf('sittings')).sort((a, b) => b.at - a.at),
  });
}

/** Strums and picks of one's own, by name. */
export function usePatterns() {
  return useQuery({
    queryKey: ['patterns'],
    queryFn: async () => (await store.readAllOf('patterns')).sort((a, b) => a.name.localeCompare(b.name)),
  });
}

/** The working copy of a record with its present state; the same on every screen. */
export function useCopy<K extends Kind>(kind: K, id: string): [CopyState<K>, Copy<K>] {
  const copy = copyOf(kind, id);
  return [useSyncExternalStore(copy.subscribe, copy.snapshot), copy];
}

/** What queries of stored data begin with. What is computed is known by what it was computed from, and never gets old. */
const STORED: ReadonlySet<unknown> = new Set(['shelf', ...KINDS]);

/** Runs a change of stored data; a failure is kept with it, to be shown. */
export function useStoreChange<A = void>(change: (argument: A) => Promise<unknown>) {
  return useMutation({
    mutationFn: change,
    onSettled: () => queryClient.invalidateQueries({ predicate: ({ queryKey }) => STORED.has(queryKey[0]) }),
  });
}
