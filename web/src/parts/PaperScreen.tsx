import type { ComponentProps, ReactNode } from 'react';
import common from '../theme/common.module.css';
import { Masthead } from './Masthead';
import { PAGE_RULE, type Paper } from './paper';

/** A screen that shows a paper as it will be printed: what is chosen for it, then the paper. */
export function PaperScreen({
  paper,
  title,
  under,
  rail,
  children,
}: Pick<ComponentProps<typeof Masthead>, 'title' | 'under' | 'rail'> & {
  paper: Paper;
  children: ReactNode;
}) {
  return (
    <div className={common.frame}>
      <style>{PAGE_RULE[paper]}</style>
      <Masthead title={title} under={under} rail={rail} />
      <main>{children}</main>
    </div>
  );
}
