import { median } from '@ecoute/core/audio/ranks';
import type { Evidence } from '@ecoute/core/audio/evidence';
import { t } from '../../base/i18n';
import { inFigures } from '../../parts/figureWords';

/** A degree of the major scale; the half tone above it carries a sharp. */
export function degreeName(at: number): string {
  return Number.isInteger(at) ? String(at) : `${Math.floor(at)}♯`;
}

/** What the vibrato of a performance is like, where there is any. */
export function vibratoWords(notes: Evidence['notes']): string | null {
  const found = notes?.flatMap(n => n.vibrato ?? []) ?? [];
  if (!notes || found.length === 0) return null;
  return t('on {{n}} of {{all}} notes: {{rate}} Hz, {{extent}} cents to each side', {
    n: found.length,
    all: notes.length,
    rate: inFigures(median(found.map(v => v.rateHz)), 1),
    extent: inFigures(median(found.map(v => v.extentCents)), 0),
  });
}

function Row({ title, of }: { title: string; of: { name: string; notes: number; centsOff: number }[] }) {
  if (of.length === 0) return null;
  return (
    <div>
      <p className="font-semibold">{title}</p>
      <dl className="flex flex-wrap gap-x-6 gap-y-1">
        {of.map(({ name, notes, centsOff }) => (
          <div key={name} className="flex items-baseline gap-2">
            <dt className="font-semibold">{name}</dt>
            <dd className="tabular m-0">
              {inFigures(centsOff, 0, true)} {t('cents')} <span className="text-sm text-soft">×{notes}</span>
            </dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

/** Where a performance tends to be sharp or flat, and its vibrato. */
export function Tendencies({ target, notes }: Pick<Evidence, 'target' | 'notes'>) {
  const vibrato = vibratoWords(notes);
  if (!target && !vibrato) return null;
  return (
    <div className="grid grid-cols-1 content-start gap-3">
      {target && (
        <>
          <Row
            title={t('Tuning by degree of the scale')}
            of={target.byDegree.map(d => ({ ...d, name: degreeName(d.at) }))}
          />
          <Row
            title={t('Tuning by octave')}
            of={target.byRegister.map(d => ({ ...d, name: `C${d.at}–B${d.at}` }))}
          />
        </>
      )}
      {vibrato && (
        <p>
          <span className="font-semibold">{t('Vibrato')}</span> {vibrato}
        </p>
      )}
    </div>
  );
}
