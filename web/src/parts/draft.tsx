import { Alert } from '@mantine/core';
import { useEffect, useState } from 'react';
import { keepDraft, readDraft } from '../data/drafts';
import { storeWords } from '../data/store';

/**
 * A text that is being typed, kept until it has become something, also when the window closes before that.
 *
 * @param key under which it is kept
 * @param begins what it begins with; what was typed last where that is undefined
 * @param kept whether it is kept at all: what stands in a record already is not
 */
export function useDraft(key: string, begins: string | undefined, kept: boolean) {
  const [text, setText] = useState(begins);
  const [unkept, setUnkept] = useState<string>();
  useEffect(() => {
    if (text !== undefined || !kept) return;
    readDraft(key).then(
      draft => setText(typed => typed ?? draft),
      () => setText(typed => typed ?? ''),
    );
  }, [key, text, kept]);
  useEffect(() => {
    if (text === undefined || !kept) return;
    keepDraft(key, text).then(
      () => setUnkept(undefined),
      cause => setUnkept(storeWords(cause)),
    );
  }, [key, text, kept]);
  return { text, setText, unkept, forget: () => keepDraft(key, '') };
}

/** What is wrong with keeping a draft, or with making something of it. */
export function DraftTrouble({ unkept, error }: { unkept: string | undefined; error: unknown }) {
  return (
    <>
      {unkept && (
        <Alert color="cranberry" title="What you type is not kept">
          {unkept}. Copy the text to a safe place before you leave.
        </Alert>
      )}
      {Boolean(error) && (
        <Alert color="cranberry" title="It could not be put on the shelf">
          {storeWords(error)}. The text stays here.
        </Alert>
      )}
    </>
  );
}
