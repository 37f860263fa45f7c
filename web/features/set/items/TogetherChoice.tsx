import type { Item } from '@ecoute/contract/assessments';
import type { Together } from '@ecoute/contract/together';
import { MOST_TOGETHER, type WayTogether } from '@ecoute/core/takes/together';
import { Field, inputClass } from '../../../parts/Field';

const WORDS: Record<WayTogether, string> = {
  oneDevice: 'together, on one device',
  turns: 'together, in turns, each on their own device',
};

const count = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, i) => from + i);

/** Whether an item is answered by each alone or by some as one, and how. */
export function TogetherChoice({
  item,
  onChange,
}: {
  item: Item;
  onChange: (change: Partial<Item>) => void;
}) {
  const together = item.together ?? null;
  const change = (over: Partial<Together>) =>
    onChange({ together: { ...{ most: 2, turnsEach: 2, way: 'oneDevice' as const }, ...together, ...over } });
  return (
    <>
      <Field
        label="Who answers"
        className="col-span-2"
        hint={
          together?.way === 'oneDevice'
            ? 'One device records. Whoever is there is ticked, and has the recording, the result and the feedback as well.'
            : together?.way === 'turns'
              ? 'They speak one after the other. The answer limit is the longest turn; all turns become one recording, which is the answer of each.'
              : undefined
        }
      >
        {ties => (
          <select
            {...ties}
            className={inputClass}
            value={together?.way ?? ''}
            onChange={e =>
              e.target.value === ''
                ? onChange({ together: null })
                : change({ way: e.target.value as WayTogether })
            }
          >
            <option value="">each alone</option>
            {Object.entries(WORDS)
              .filter(([way]) => way === 'oneDevice' || !item.isConversation)
              .map(([way, words]) => (
                <option key={way} value={way}>
                  {words}
                </option>
              ))}
          </select>
        )}
      </Field>
      {together && (
        <Field label="People, at most">
          {ties => (
            <select
              {...ties}
              className={inputClass}
              value={together.most}
              onChange={e => change({ most: Number(e.target.value) })}
            >
              {count(2, MOST_TOGETHER).map(n => (
                <option key={n} value={n}>
                  {n === 2 ? '2, a pair' : n}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      {together?.way === 'turns' && (
        <Field label="Turns of each">
          {ties => (
            <select
              {...ties}
              className={inputClass}
              value={together.turnsEach}
              onChange={e => change({ turnsEach: Number(e.target.value) })}
            >
              {count(1, 10).map(n => (
                <option key={n} value={n}>
                  {n}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
    </>
  );
}
