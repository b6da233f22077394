import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js';
import { format } from 'date-fns';
import { Chart as Drawn } from 'react-chartjs-2';
import type { PracticeWeek } from '#core/practice';
import common from '../../theme/common.module.css';
import { theme } from '../../theme/theme';
import styles from './Pupils.module.css';

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
);
Chart.defaults.font.family = theme.fontFamily!;

/** A colour of the theme, as it is now. */
const colour = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();

/** Tempo and minutes by week, as a picture and as a table. */
export default function PracticeChart({ weeks }: { weeks: readonly PracticeWeek[] }) {
  const labels = weeks.map(({ week }) => format(week, 'd MMM'));
  const best = Math.max(0, ...weeks.map(({ percent = 0 }) => percent));
  const minutes = weeks.reduce((sum, week) => sum + week.minutes, 0);
  return (
    <figure style={{ margin: 0 }}>
      <div className={styles.practiceChart}>
        <Drawn
          type="bar"
          role="img"
          aria-label={`Practice over ${weeks.length} weeks: ${Math.round(minutes)} minutes in all, up to ${best} % of the tempo`}
          data={{
            labels,
            datasets: [
              {
                type: 'line' as const,
                label: 'Clean tempo, %',
                data: weeks.map(({ percent }) => percent ?? null),
                yAxisID: 'tempo',
                borderColor: colour('spruce'),
                backgroundColor: colour('spruce'),
                spanGaps: true,
                pointRadius: 5,
              },
              {
                type: 'bar' as const,
                label: 'Minutes',
                data: weeks.map(week => Math.round(week.minutes)),
                yAxisID: 'minutes',
                backgroundColor: colour('marigold'),
                maxBarThickness: 34,
              },
            ],
          }}
          options={{
            animation: false,
            maintainAspectRatio: false,
            color: colour('ink'),
            scales: {
              tempo: {
                position: 'left',
                // Bars ask for zero, a tempo does not.
                beginAtZero: false,
                suggestedMin: 40,
                suggestedMax: 110,
                title: { display: true, text: 'Clean tempo, %', color: colour('ink') },
                ticks: { color: colour('ink'), font: { size: 13 } },
                grid: { color: colour('line') },
              },
              minutes: {
                position: 'right',
                min: 0,
                title: { display: true, text: 'Minutes', color: colour('ink') },
                ticks: { color: colour('ink'), font: { size: 13 } },
                grid: { display: false },
              },
              x: { ticks: { color: colour('ink'), font: { size: 13 } }, grid: { display: false } },
            },
          }}
        />
      </div>
      <figcaption className={common.quiet}>
        Line: highest clean tempo of a week; bars: minutes. The week begins on the day that is named.
      </figcaption>
      <details>
        <summary>As a table</summary>
        <table className={styles.practiceTable}>
          <thead>
            <tr>
              <th>Week from</th>
              <th>Minutes</th>
              <th>Times</th>
              <th>Clean tempo</th>
            </tr>
          </thead>
          <tbody>
            {weeks.map((week, i) => (
              <tr key={week.week}>
                <td>{labels[i]}</td>
                <td>{Math.round(week.minutes)}</td>
                <td>{week.sittings}</td>
                <td>{week.percent === undefined ? '–' : `${week.percent} %`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
