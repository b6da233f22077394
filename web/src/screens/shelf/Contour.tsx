import styles from './Contour.module.css';
/** The melody's rise and fall, small: tunes are told apart by it at a glance. */
export function Contour({ path }: { path: string }) {
  return (
    <svg className={styles.contour} viewBox="0 0 200 40" preserveAspectRatio="none" aria-hidden>
      <path d={path} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
