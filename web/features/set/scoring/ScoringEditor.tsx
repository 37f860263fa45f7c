import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { CEFR } from '@ecoute/core/scoring/scales';
import { fromHundredths, parsePoints, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import {
  isNumbered,
  reachable,
  rubricMaximum,
  schemeProblems,
  SCHEMES,
  type Scheme,
} from '@ecoute/core/scoring/scheme';
import type { AssessmentContent, Scoring } from '@ecoute/contract/assessments';
import { carriedPoints } from '@ecoute/contract/assessment/points';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Segments } from '../../../parts/Segments';
import { Tick } from '../../../parts/Tick';
import { useAssessmentsQuery } from '../endpoints';
import { RubricEditor, withIds } from './RubricEditor';
import { RUBRIC_TEMPLATES } from './rubricTemplates';

const SCHEME_WORDS: Record<Scheme, { name: string; says: string }> = {
  none: { name: 'Not scored', says: 'You listen and comment; nobody sees a number.' },
  done: { name: 'Done or not', says: 'Each answer is done or not done; nothing is added up.' },
  points: { name: 'Points', says: 'You give each answer points, up to what its item carries.' },
  rubric: {
    name: 'Rubric',
    says: 'You choose a level on each criterion; the item’s points follow and can be adjusted.',
  },
  level: {
    name: 'Overall level',
    says: 'One level for the whole sitting, after hearing everything; no numbers.',
  },
};

/** Where a rubric comes from: a template, or another assessment of one's own. */
function RubricSources({
  assessmentId,
  onTake,
}: {
  assessmentId: string;
  onTake: (rubric: Scoring['rubric']) => void;
}) {
  const { data } = useAssessmentsQuery(undefined, { refetchOnMountOrArgChange: true });
  const others = (data ?? []).filter(a => a.id !== assessmentId && a.content.scoring.rubric?.criteria.length);
  return (
    <div className="flex flex-wrap items-center gap-3">
      <span className="text-sm font-semibold">Begin with</span>
      {RUBRIC_TEMPLATES.map(t => (
        <Button key={t.name} onClick={() => onTake(withIds(t.rubric))}>
          {t.name}
        </Button>
      ))}
      <Button
        onClick={() =>
          onTake(
            withIds({
              levels: ['not yet', 'nearly', 'yes'].map((name, points) => ({ name, points })),
              criteria: [{ name: '', weight: 1, descriptors: ['', '', ''] }],
            }),
          )
        }
      >
        an empty one
      </Button>
      {others.length > 0 && (
        <select
          aria-label="The rubric of another assessment"
          value=""
          onChange={e => {
            const found = others.find(a => a.id === e.target.value)?.content.scoring.rubric;
            if (found) onTake(withIds(found));
          }}
          className={`${inputClass} !w-auto`}
        >
          <option value="">the rubric of …</option>
          {others.map(a => (
            <option key={a.id} value={a.id}>
              {a.content.title || 'Without a title'}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}

function ScaleEditor({
  scoring,
  onChange,
}: {
  scoring: Scoring;
  onChange: (change: Partial<Scoring>) => void;
}) {
  const { scale } = scoring;
  const set = (n: number, change: Partial<Scoring['scale'][number]>) =>
    onChange({ scale: scale.map((l, i) => (i === n ? { ...l, ...change } : l)) });
  return (
    <div className="grid gap-2">
      <ol className="grid gap-2">
        {scale.map((level, n) => (
          <li key={n} className="grid gap-2 sm:grid-cols-[9rem_minmax(0,1fr)_auto]">
            <input
              aria-label={`Name of level ${n + 1}`}
              value={level.name}
              onChange={e => set(n, { name: e.target.value })}
              className={`${inputClass} font-semibold`}
            />
            <input
              aria-label={`What ${level.name || `level ${n + 1}`} means`}
              value={level.descriptor}
              onChange={e => set(n, { descriptor: e.target.value })}
              className={inputClass}
            />
            <Button
              aria-label={`Take out level ${n + 1}`}
              onClick={() => onChange({ scale: scale.filter((_, i) => i !== n) })}
            >
              Take out
            </Button>
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => onChange({ scale: [...scale, { name: '', descriptor: '' }] })}>
          Add a level
        </Button>
        <Button onClick={() => onChange({ scale: CEFR.map(l => ({ ...l })) })}>CEFR names again</Button>
      </div>
    </div>
  );
}

/** How answers are scored, and what a student can reach. Contradictions are said while they are made. */
export function ScoringEditor({
  assessmentId,
  content,
  fields,
  onChange,
  onCarry,
}: {
  assessmentId: string;
  content: AssessmentContent;
  fields: Record<string, string>;
  onChange: (change: Partial<Scoring>) => void;
  /** Lets every item carry these points. */
  onCarry: (points: number) => void;
}) {
  const { scoring } = content;
  const { kind, rubric } = scoring;
  const [typedMark, setTypedMark] = useState<string | null>(null);
  const carried = carriedPoints(content);
  const problems = [
    ...schemeProblems(scoring, carried),
    ...Object.entries(fields).flatMap(([k, v]) => (k.startsWith('scoring.') ? [v] : [])),
  ];
  const total = reachable(kind, carried);
  const natural = kind === 'rubric' && rubric ? rubricMaximum(rubric) : null;
  return (
    <Collapsible.Root className="bg-sheet px-5 py-1">
      <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Scoring
        <span className="font-normal text-soft">
          {SCHEME_WORDS[kind].name.toLowerCase()}
          {kind === 'rubric' && rubric && `, ${rubric.criteria.length} criteria`}
          {total !== null && `, ${pointsText(total)} points to reach`}
          {scoring.passMark !== null &&
            total !== null &&
            `, ${pointsText(toHundredths(scoring.passMark))} to pass`}
        </span>
        {problems[0] && <span className="font-semibold">▲ {problems[0]}</span>}
      </Collapsible.Trigger>
      <Collapsible.Content className="grid grid-cols-1 gap-5 pt-3 pb-5">
        <div>
          <Segments
            label="How answers are scored"
            value={kind}
            options={SCHEMES.map(scheme => ({ value: scheme, name: SCHEME_WORDS[scheme].name }))}
            onChange={scheme => onChange({ kind: scheme })}
          />
          <p className="mt-1 text-sm text-soft">{SCHEME_WORDS[kind].says}</p>
        </div>
        {problems.length > 0 && (
          <ul role="alert" className="grid gap-1 border-s-4 border-ink ps-4">
            {[...new Set(problems)].map(p => (
              <li key={p}>▲ {p}</li>
            ))}
          </ul>
        )}
        {kind === 'rubric' && (
          <>
            <RubricSources assessmentId={assessmentId} onTake={taken => onChange({ rubric: taken })} />
            {rubric && <RubricEditor rubric={rubric} onChange={changed => onChange({ rubric: changed })} />}
            {natural !== null && natural > 0 && carried.some(p => toHundredths(p) !== natural) && (
              <p className="flex flex-wrap items-center gap-3 text-sm">
                By itself the rubric makes {pointsText(natural)} points; each item turns it into the points it
                carries.
                <Button onClick={() => onCarry(fromHundredths(natural))}>
                  Let every item carry {pointsText(natural)}
                </Button>
              </p>
            )}
          </>
        )}
        {kind === 'level' && <ScaleEditor scoring={scoring} onChange={onChange} />}
        <div className="flex flex-wrap items-start gap-x-8 gap-y-3">
          {(kind === 'rubric' || kind === 'level') && (
            <Tick checked={scoring.shown} onChange={shown => onChange({ shown })}>
              Students read {kind === 'rubric' ? 'the rubric' : 'the scale'} before and after
            </Tick>
          )}
          {isNumbered(kind) && (
            <Field
              label="Pass mark"
              hint={
                total === null
                  ? undefined
                  : `Of ${pointsText(total)} points to reach. Leave it empty for none.`
              }
              error={
                typedMark !== null && typedMark.trim() && parsePoints(typedMark) === null
                  ? 'Type points such as 12 or 12.5, or leave it empty.'
                  : null
              }
            >
              {ties => (
                <input
                  {...ties}
                  inputMode="decimal"
                  className={`${inputClass} tabular !w-28`}
                  value={
                    typedMark ?? (scoring.passMark === null ? '' : pointsText(toHundredths(scoring.passMark)))
                  }
                  onChange={e => {
                    setTypedMark(e.target.value);
                    const hundredths = parsePoints(e.target.value);
                    if (!e.target.value.trim()) onChange({ passMark: null });
                    else if (hundredths !== null) onChange({ passMark: fromHundredths(hundredths) });
                  }}
                  onBlur={() => setTypedMark(null)}
                />
              )}
            </Field>
          )}
        </div>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
