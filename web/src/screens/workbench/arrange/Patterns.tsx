import { usualPattern } from '#core/arrange';
import type { ArrangeSettings } from '#core/score';
import type { Meter } from '#core/time';
import type { Section } from '#core/tune';
import common from '../../../theme/common.module.css';
import { PatternChoice } from './PatternChoice';

/** The pattern of the whole, and those of sections that have their own. */
export function Patterns({
  meter,
  strings,
  sections,
  measures,
  where,
  settings,
  onChange,
}: {
  meter: Meter;
  strings: number;
  sections: readonly Section[];
  /** Ids of the tune's measures that are chosen, and what they are called. */
  measures: readonly string[];
  where: string;
  settings: ArrangeSettings;
  onChange: (patch: Partial<ArrangeSettings>) => void;
}) {
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
            {sections.map(({ id, name }) => (
              <PatternChoice
                key={id}
                label={`Section ${sections.filter(s => s.name === name).length > 1 ? `${name} (${sections.findIndex(s => s.id === id) + 1})` : name}`}
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
