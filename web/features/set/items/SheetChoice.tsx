import type { Item } from '@ecoute/contract/assessments';
import { SHEETS, type Sheet } from '@ecoute/contract/ink';
import { Field, inputClass } from '../../../parts/Field';

const WORDS: Record<Sheet, string> = {
  empty: 'on an empty sheet',
  picture: 'on the first picture of this item',
  own: 'on a picture of the student’s own',
};

/** Whether the student draws while they speak, and on what. */
export function SheetChoice({ item, onChange }: { item: Item; onChange: (change: Partial<Item>) => void }) {
  const lacks = item.sheet === 'picture' && !item.stimuli.some(s => s.kind === 'picture' && s.recordingId);
  return (
    <Field
      label="Drawn while it is spoken"
      hint={
        lacks
          ? 'This item shows no picture yet: until it does, the sheet is empty.'
          : 'Each line keeps its moment, and is drawn again when the answer is heard.'
      }
    >
      {ties => (
        <select
          {...ties}
          className={inputClass}
          value={item.sheet ?? ''}
          onChange={e => onChange({ sheet: e.target.value === '' ? null : (e.target.value as Sheet) })}
        >
          <option value="">nothing</option>
          {SHEETS.map(sheet => (
            <option key={sheet} value={sheet}>
              {WORDS[sheet]}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}
