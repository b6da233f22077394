import { QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { TunePlan } from '#core/capo';
import type { LessonProgress } from '#core/formats/bundle';
import type { Tune } from '#core/tune';
import * as repository from './repository';

/** Data is local: it only changes when this window changes it, or another one says so. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: { staleTime: Number.POSITIVE_INFINITY, networkMode: 'always', retry: false },
    mutations: { networkMode: 'always' },
  },
});

export function useShelf() {
  return useQuery({ queryKey: ['shelf'], queryFn: repository.readShelf });
}

export function useTune(id: string | undefined) {
  return useQuery({
    queryKey: ['tune', id],
    queryFn: () => repository.readTune(id!),
    enabled: id !== undefined,
  });
}

export function useArrangements(tuneId: string | undefined) {
  return useQuery({
    queryKey: ['arrangements', tuneId],
    queryFn: () => repository.readArrangements(tuneId!),
    enabled: tuneId !== undefined,
  });
}

export function useArrangement(id: string) {
  // Read afresh whenever a screen opens: the Workbench holds its own working copy while it is open.
  return useQuery({
    queryKey: ['arrangement', id],
    queryFn: () => repository.readArrangement(id),
    gcTime: 0,
  });
}

export function useLesson(id: string) {
  return useQuery({ queryKey: ['lesson', id], queryFn: () => repository.readLesson(id) });
}

/** Runs a change of stored data and has every screen read again. */
export function useStoreChange<A = void>(change: (argument: A) => Promise<unknown>) {
  const client = useQueryClient();
  return useMutation({ mutationFn: change, onSettled: () => client.invalidateQueries() });
}

export const useSaveTune = () => useStoreChange((tune: Tune) => repository.saveTune(tune));

export function useSaveLesson() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (progress: LessonProgress) => repository.saveLesson(progress),
    // The tick shows at once; the write follows.
    onMutate: progress => client.setQueryData(['lesson', progress.id], progress),
  });
}

export function usePlan(tuneId: string) {
  return useQuery({ queryKey: ['plan', tuneId], queryFn: () => repository.readPlan(tuneId) });
}

export function useSavePlan() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (plan: TunePlan) => repository.savePlan(plan),
    onMutate: plan => client.setQueryData(['plan', plan.id], plan),
  });
}
