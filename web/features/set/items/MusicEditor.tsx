import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { noteName } from '@ecoute/core/timing/accompaniment';
import type { Item } from '@ecoute/contract/assessments';
import { blankMusic } from '@ecoute/contract/blank';
import { isSilent, type ItemMusic } from '@ecoute/contract/music';
import { Field, inputClass } from '../../../parts/Field';
import { Tick } from '../../../parts/Tick';
import { VoiceSlot } from './VoiceSlot';

const FIRST_BEAT = { bpm: 72, beats: 4, countInBars: 1, heard: true };
/** From the lowest C of a bass to the highest C of a descant recorder. */
const NOTES = Array.from({ length: 73 }, (_, i) => 24 + i);
const A4 = 69;

/** What is set, in a few words. */
function words({ metronome, startingNote, drone, backing }: ItemMusic): string[] {
  return [
    metronome && `♩ = ${metronome.bpm}, ${metronome.beats} in a bar`,
    startingNote !== null && `begins from ${noteName(startingNote)}`,
    drone !== null && `drone on ${noteName(drone)}`,
    backing && 'a backing track',
  ].filter(w => typeof w === 'string');
}

/** What sounds along with an answer: the beat, a note to begin from, a drone, a backing track. */
export function MusicEditor({
  assessmentId,
  item,
  problem,
  onChange,
}: {
  assessmentId: string;
  item: Item;
  problem: (name: string) => string | null;
  onChange: (change: Partial<Item>) => void;
}) {
  const music = item.music ?? blankMusic();
  const change = (part: Partial<ItemMusic>) => {
    const next = { ...music, ...part };
    onChange({ music: isSilent(next) ? null : next });
  };
  const { metronome } = music;
  const note = (name: 'startingNote' | 'drone', label: string, hint: string) => (
    <div className="grid gap-2">
      <Tick checked={music[name] !== null} onChange={on => change({ [name]: on ? A4 - 9 : null })}>
        {label}
      </Tick>
      {music[name] !== null && (
        <Field label={`${label}: which note`} hint={hint} error={problem(`music.${name}`)}>
          {ties => (
            <select
              {...ties}
              className={`${inputClass} max-w-40`}
              value={music[name]!}
              onChange={e => change({ [name]: Number(e.target.value) })}
            >
              {NOTES.map(n => (
                <option key={n} value={n}>
                  {noteName(n)}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
    </div>
  );
  const number = (name: 'bpm' | 'beats', label: string, { min, max }: { min: number; max: number }) => (
    <Field label={label} error={problem(`music.metronome.${name}`)}>
      {ties => (
        <input
          {...ties}
          type="number"
          min={min}
          max={max}
          value={metronome![name]}
          onChange={e => change({ metronome: { ...metronome!, [name]: Number(e.target.value) } })}
          className={`${inputClass} tabular`}
        />
      )}
    </Field>
  );
  return (
    <Collapsible.Root className="border-t border-line pt-1">
      <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Beat, starting note, drone, backing track
        <span className="font-normal text-soft">{words(music).join(', ') || 'none'}</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-6 pt-2">
        <div className="grid gap-3">
          <Tick checked={metronome !== null} onChange={on => change({ metronome: on ? FIRST_BEAT : null })}>
            A metronome counts in and keeps the beat
          </Tick>
          {metronome && (
            <div className="grid gap-3 sm:grid-cols-3">
              {number('bpm', 'Beats a minute', { min: 30, max: 240 })}
              {number('beats', 'Beats in a bar', { min: 1, max: 12 })}
              <Field label="Bars counted in" error={problem('music.metronome.countInBars')}>
                {ties => (
                  <select
                    {...ties}
                    className={inputClass}
                    value={metronome.countInBars}
                    onChange={e =>
                      change({ metronome: { ...metronome, countInBars: Number(e.target.value) } })
                    }
                  >
                    {[0, 1, 2, 3, 4].map(n => (
                      <option key={n} value={n}>
                        {n === 0 ? 'none' : n}
                      </option>
                    ))}
                  </select>
                )}
              </Field>
              <div className="sm:col-span-3">
                <Tick
                  checked={metronome.heard}
                  onChange={heard => change({ metronome: { ...metronome, heard } })}
                >
                  Heard while they play, too; otherwise only seen after the count-in
                </Tick>
              </div>
            </div>
          )}
        </div>
        {note(
          'startingNote',
          'A note to begin from',
          'Sounds once before each take, and whenever the student asks.',
        )}
        {note('drone', 'A drone under the answer', 'Sounds from the first to the last moment of the take.')}
        <div className="grid gap-2">
          <p>
            <span className="text-sm font-semibold">Backing track</span>
            <span className="block text-sm text-soft">
              Begins with the answer, after the count-in. Students are told to put headphones on.
            </span>
          </p>
          <VoiceSlot
            assessmentId={assessmentId}
            place={`${item.id} backing`}
            what="backing track"
            title="Backing track"
            voice={music.backing}
            onChange={backing => change({ backing })}
          />
        </div>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
