import { SegmentedControl } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { type ComponentProps, type CSSProperties, type ReactNode, useRef } from 'react';
import common from '../../theme/common.module.css';
import { Masthead } from '../Masthead';
import { PrintScale, usePrintScale } from '../printScale';
import { PrintButton } from './PaperTools';
import { PictureButtons } from './PictureButtons';
import { PAGE_RULE, PAGE_WIDTH, PAPERS, type Paper } from './paper';
import styles from './paper.module.css';

interface PaperScreenProps extends Pick<ComponentProps<typeof Masthead>, 'title' | 'under' | 'rail'> {
  /** The choice of what kind of sheet it is. */
  sheet?: ReactNode;
  /** What else is chosen for it. */
  tools: ReactNode;
  /** Other ways to hand it on than print and picture. */
  files?: ReactNode;
  /** What is said under the title. */
  facts: readonly string[];
  /** Size of its letters beside the usual one. */
  size?: number;
  children: ReactNode;
}

/** A screen that shows a paper as it will be printed: what is chosen for it, then the paper. */
export function PaperScreen({
  sheet,
  tools,
  files,
  facts,
  size = 1,
  children,
  ...masthead
}: PaperScreenProps) {
  const [paper, setPaper] = useLocalStorage<Paper>({ key: 'paper', defaultValue: 'a4' });
  const sheetOfPaper = useRef<HTMLElement>(null);
  const printScale = usePrintScale(sheetOfPaper, PAGE_WIDTH[paper]);
  return (
    <div className={common.frame}>
      <style>{PAGE_RULE[paper]}</style>
      <Masthead {...masthead} />
      <main>
        <div className={styles.paperTools} role="region" aria-label="What the paper shows">
          {sheet}
          <SegmentedControl value={paper} onChange={setPaper} data={PAPERS} aria-label="Paper" />
          {tools}
          <PrintButton />
          <PictureButtons of={`.${styles.paper}`} title={masthead.title} />
          {files}
        </div>
        <article
          ref={sheetOfPaper}
          className={`${styles.paper} ${styles[paper]}`}
          style={{ '--size': size } as CSSProperties}
        >
          <h1>{masthead.title}</h1>
          <p className={styles.facts}>{facts.join(' · ')}</p>
          <PrintScale value={printScale}>{children}</PrintScale>
        </article>
      </main>
    </div>
  );
}
