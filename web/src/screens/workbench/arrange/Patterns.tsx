import { usualPattern } from '#core/arrange';
import type { Arrangement, ArrangeSettings } from '#core/score';
import type { Meter } from '#core/time';
import { sectionLabels, sectionsOf } from '#core/tune';
import common from '../../../theme/common.module.css';
import { PatternChoice } from './PatternChoice';

/** The pattern of the whole, and those of sections that have their own. */
export function Patterns({
  meter,
  strings,
  form,
  measures,
  where,
  settings,
  onChange,
}: {
  meter: Meter;
  strings: number;
  /** The written measures, with their sections. */
  form: Arrangement['measures'];
  /** Ids of the tune's measures that are chosen, and what they are called. */
  measures: readonly string[];
  where: string;
  settings: ArrangeSettings;
  onChange: (patch: Partial<ArrangeSettings>) => void;
}) {
  const sections = sectionsOf(form);
  const labels = sectionLabels(form);
  const own = settings.sectionPatterns ?? {};
  const byMeasure = settings.measurePatterns ?? {};
  const usual = usualPattern(meter, settings.school);
  return (
    <>
      <PatternChoice
        label="Pattern"
        meter={meter}
        strings={strings}
        text={settings.pattern ?? ''}
        usual={usual}
        placeholder={`as usual: ${usual.name}`}
        onChange={pattern => onChange({ pattern })}
      />
      {sections.length > 1 && (
        <details open={Object.values(own).some(Boolean)}>
          <summary>A pattern of its own for a section</summary>
          <div className={common.stack}>
            {sections.map(({ id }, i) => (
              <PatternChoice
                key={id}
                label={`Section ${labels[i]}`}
                meter={meter}
                strings={strings}
                text={own[id] ?? ''}
                usual={usual}
                placeholder="as the whole"
                onChange={pattern => {
                  const { [id]: _before, ...others } = own;
                  onChange({ sectionPatterns: pattern ? { ...others, [id]: pattern } : others });
                }}
              />
            ))}
          </div>
        </details>
      )}
      <details open={measures.some(id => byMeasure[id])}>
        <summary>A pattern of its own for {where}</summary>
        <PatternChoice
          key={measures.join()}
          label={`Pattern of ${where}`}
          meter={meter}
          strings={strings}
          text={byMeasure[measures[0] ?? ''] ?? ''}
          usual={usual}
          placeholder="as the section"
          onChange={pattern => {
            const others = Object.entries(byMeasure).filter(([id]) => !measures.includes(id));
            const chosen = pattern ? measures.map(id => [id, pattern] as const) : [];
            onChange({ measurePatterns: Object.fromEntries([...others, ...chosen]) });
          }}
        />
      </details>
    </>
  );
}
