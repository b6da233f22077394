import { Select } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { type Manner, mannerOf } from '#core/arrange';
import { copyOf } from '../../../data/copies';
import { useShelf } from '../../../data/queries';
import { storeWords } from '../../../data/store';

interface MannerChoiceProps {
  /** Id of the arrangement that is made, which is no example for itself. */
  own: string;
  onManner: (manner: Manner) => void;
}

/** Another arrangement as the example: what it does is read off its notes and asked for here. */
export function MannerChoice({ own, onManner }: MannerChoiceProps) {
  const shelf = useShelf();
  const learn = useMutation({
    networkMode: 'always',
    mutationFn: async (id: string) => {
      const example = await copyOf('arrangements', id).content();
      if (!example) throw new Error('it is no longer on the shelf');
      return mannerOf(example);
    },
    onSuccess: onManner,
  });
  return (
    <Select
      label="Arrange it like"
      placeholder="another arrangement"
      searchable
      nothingFoundMessage="No other arrangement is called so"
      description={learn.isSuccess ? 'What that one does is chosen below; change what you like.' : undefined}
      error={learn.error && storeWords(learn.error)}
      data={(shelf.data ?? []).flatMap(({ title, arrangements }) =>
        arrangements
          .filter(entry => entry.id !== own)
          .map(({ id, name, label }) => ({ value: id, label: `${title}: ${name ?? label}` })),
      )}
      value={learn.variables ?? null}
      onChange={id => id && learn.mutate(id)}
    />
  );
}
