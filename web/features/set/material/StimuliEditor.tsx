import { ArrowDown, ArrowUp, BookOpenText, FileImage, Link2, Trash2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { noteName } from '@ecoute/core/formats/musicXml';
import { blankStimulus } from '@ecoute/contract/blank';
import { LIMITS } from '@ecoute/contract/limits';
import type { Stimulus, StimulusKind } from '@ecoute/contract/stimuli';
import { directionOf } from '@ecoute/core/formats/languages';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { LanguageSelect } from '../../../parts/LanguageSelect';
import { desk } from '../../../parts/recorder/delivery';
import { StimulusView } from '../../../parts/stimuli/StimulusView';
import { useDetails } from '../../../parts/stimuli/useDetails';
import { Tick } from '../../../parts/Tick';
import { Arriving } from './Arriving';
import { shownAs } from './stimuli';
import { stands } from './brought';
import { useBrought } from './useBrought';

const NAMES: Record<StimulusKind, string> = {
  picture: 'Picture',
  pages: 'Pages',
  notation: 'Notation',
  passage: 'Passage to read aloud',
  link: 'Link',
};

type Change = (change: Partial<Stimulus>) => void;

function WordsField({
  stimulus,
  label,
  hint,
  onChange,
}: {
  stimulus: Stimulus;
  label: string;
  hint?: string;
  onChange: Change;
}) {
  return (
    <Field label={label} hint={hint}>
      {ties => (
        <input
          {...ties}
          value={stimulus.words}
          maxLength={LIMITS.stimulusWords}
          onChange={e => onChange({ words: e.target.value })}
          className={inputClass}
        />
      )}
    </Field>
  );
}

function NotationFields({ stimulus, onChange }: { stimulus: Stimulus; onChange: Change }) {
  const score = useDetails(stimulus.recordingId)?.score;
  const parts = score?.parts ?? [];
  const part = parts.find(p => p.id === stimulus.part) ?? parts[0];
  const first = part?.firstMidi ?? null;
  return (
    <>
      {parts.length > 1 && (
        <Field label="Part" hint={`This score has ${parts.length} parts.`}>
          {ties => (
            <select
              {...ties}
              value={stimulus.part}
              onChange={e => onChange({ part: e.target.value })}
              className={inputClass}
            >
              {parts.map(p => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
              <option value="">all parts together</option>
            </select>
          )}
        </Field>
      )}
      <Field label="Transposed">
        {ties => (
          <select
            {...ties}
            value={stimulus.semitones}
            onChange={e => onChange({ semitones: Number(e.target.value) })}
            className={inputClass}
          >
            {Array.from({ length: 25 }, (_, i) => 12 - i).map(n => (
              <option key={n} value={n}>
                {n === 0
                  ? 'as written'
                  : `${Math.abs(n)} ${Math.abs(n) === 1 ? 'half tone' : 'half tones'} ${n > 0 ? 'higher' : 'lower'}`}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Tick checked={stimulus.startingNote} onChange={startingNote => onChange({ startingNote })}>
        Students can hear the starting note{first !== null && `, ${noteName(first + stimulus.semitones)}`}
      </Tick>
    </>
  );
}

function Fields({
  stimulus,
  error,
  onChange,
}: {
  stimulus: Stimulus;
  error: string | null;
  onChange: Change;
}) {
  const details = useDetails(stimulus.kind === 'pages' ? stimulus.recordingId : null);
  switch (stimulus.kind) {
    case 'picture':
      return (
        <WordsField
          stimulus={stimulus}
          label="What it shows"
          hint="For those who do not see it."
          onChange={onChange}
        />
      );
    case 'pages':
      return (
        <Field label="Shown">
          {ties => (
            <select
              {...ties}
              value={stimulus.page}
              onChange={e => onChange({ page: Number(e.target.value) })}
              className={inputClass}
            >
              <option value={0}>all pages, to be turned</option>
              {Array.from({ length: Math.max(details?.pages ?? 1, stimulus.page) }, (_, i) => (
                <option key={i} value={i + 1}>
                  page {i + 1} only
                </option>
              ))}
            </select>
          )}
        </Field>
      );
    case 'notation':
      return <NotationFields stimulus={stimulus} onChange={onChange} />;
    case 'passage':
      return (
        <>
          <Field label="Language" hint="For its letters, its direction and screen readers.">
            {ties => (
              <LanguageSelect
                {...ties}
                value={stimulus.language}
                none="that of the page"
                onChange={language => onChange({ language })}
              />
            )}
          </Field>
          <WordsField stimulus={stimulus} label="Heading" hint="May stay empty." onChange={onChange} />
        </>
      );
    case 'link':
      return (
        <>
          <Field label="Address" error={error}>
            {ties => (
              <input
                {...ties}
                type="url"
                value={stimulus.url}
                placeholder="https://"
                onChange={e => onChange({ url: e.target.value })}
                onBlur={e => {
                  const url = e.target.value.trim();
                  if (url && !/^[a-z]+:/i.test(url)) onChange({ url: `https://${url}` });
                }}
                className={inputClass}
              />
            )}
          </Field>
          <WordsField stimulus={stimulus} label="What students read" onChange={onChange} />
        </>
      );
  }
}

/** Things to look at or read with directions or a prompt: pictures, pages, notation, passages, links. */
export function StimuliEditor({
  assessmentId,
  place,
  what,
  stimuli,
  errors,
  onChange,
}: {
  assessmentId: string;
  place: string;
  /** What they belong to, in words that follow “the”: prompt, directions. */
  what: string;
  stimuli: readonly Stimulus[];
  /** What is wrong with each, by its place. */
  errors: Record<number, string>;
  onChange: (change: (stimuli: Stimulus[]) => Stimulus[]) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { deliveries, bring } = useBrought(assessmentId, `${place} show`, 'show');
  const add = (stimulus: Stimulus) => onChange(all => [...all, stimulus]);
  const change =
    (id: string): Change =>
    part =>
      onChange(all => all.map(s => (s.id === id ? { ...s, ...part } : s)));
  const move = (at: number, by: number) =>
    onChange(all => {
      const moved = [...all];
      const [one] = moved.splice(at, 1);
      moved.splice(at + by, 0, one!);
      return moved;
    });

  // What has arrived is put here; nothing about it needs to be confirmed.
  const arrived = deliveries.find(stands)?.recording;
  const told = useRef(onChange);
  useEffect(() => {
    told.current = onChange;
  });
  useEffect(() => {
    if (!arrived) return;
    desk.forget(arrived.id);
    const stimulus = shownAs(arrived);
    if (stimulus) told.current(all => [...all, stimulus]);
  }, [arrived]);

  const bringAll = async (files: readonly File[]) => {
    setTrouble(null);
    for (const one of files) {
      const why = await bring(one);
      if (why) setTrouble(why);
    }
  };
  const full = stimuli.length >= LIMITS.stimuli;
  return (
    <div
      className="grid grid-cols-1 gap-3"
      onDragOver={event => event.dataTransfer.types.includes('Files') && event.preventDefault()}
      onDrop={event => {
        if (event.dataTransfer.files.length === 0) return;
        event.preventDefault();
        void bringAll([...event.dataTransfer.files]);
      }}
    >
      {stimuli.map((stimulus, i) => (
        <section
          key={stimulus.id}
          aria-label={`${NAMES[stimulus.kind]}, ${i + 1} of ${stimuli.length}`}
          className="grid gap-4 border-s-4 border-saffron bg-sunk p-3 sm:grid-cols-[minmax(0,1fr)_15rem]"
        >
          <div className="min-w-0">
            {stimulus.kind === 'passage' ? (
              <Field label="Passage" error={errors[i]}>
                {ties => (
                  <textarea
                    {...ties}
                    rows={6}
                    value={stimulus.text}
                    lang={stimulus.language || undefined}
                    dir={directionOf(stimulus.language)}
                    maxLength={LIMITS.passage}
                    onChange={e => change(stimulus.id)({ text: e.target.value })}
                    className={`${inputClass} font-passage text-lg leading-loose`}
                  />
                )}
              </Field>
            ) : stimulus.kind === 'link' && !stimulus.url ? (
              <p className="text-soft">A link to something elsewhere; it opens in another tab.</p>
            ) : (
              <StimulusView stimulus={stimulus} />
            )}
          </div>
          <div className="grid content-start gap-3">
            <div className="flex items-center">
              <span className="flex-1 text-sm font-semibold">{NAMES[stimulus.kind]}</span>
              {i > 0 && (
                <button
                  type="button"
                  aria-label={`Move ${NAMES[stimulus.kind].toLowerCase()} up`}
                  onClick={() => move(i, -1)}
                  className="grid size-9 place-items-center"
                >
                  <ArrowUp aria-hidden className="size-5" />
                </button>
              )}
              {i < stimuli.length - 1 && (
                <button
                  type="button"
                  aria-label={`Move ${NAMES[stimulus.kind].toLowerCase()} down`}
                  onClick={() => move(i, 1)}
                  className="grid size-9 place-items-center"
                >
                  <ArrowDown aria-hidden className="size-5" />
                </button>
              )}
              <button
                type="button"
                aria-label={`Remove ${NAMES[stimulus.kind].toLowerCase()}`}
                onClick={() => onChange(all => all.filter(s => s.id !== stimulus.id))}
                className="grid size-9 place-items-center"
              >
                <Trash2 aria-hidden className="size-5" />
              </button>
            </div>
            <Fields stimulus={stimulus} error={errors[i] ?? null} onChange={change(stimulus.id)} />
          </div>
        </section>
      ))}
      {deliveries.map(d => (
        <Arriving key={d.sound.id} delivery={d} />
      ))}
      {trouble && (
        <p role="alert" className="font-semibold">
          ▲ {trouble}
        </p>
      )}
      {!full && (
        <div role="group" aria-label={`Show with the ${what}`} className="flex flex-wrap gap-3">
          <Button
            onClick={() => file.current?.click()}
            title="Picture, PDF, slides (PPTX) or notation (MusicXML)"
          >
            <FileImage aria-hidden className="size-5" /> Picture, PDF or notation
          </Button>
          <Button onClick={() => add(blankStimulus(crypto.randomUUID(), 'passage'))}>
            <BookOpenText aria-hidden className="size-5" /> Passage
          </Button>
          <Button onClick={() => add(blankStimulus(crypto.randomUUID(), 'link'))}>
            <Link2 aria-hidden className="size-5" /> Link
          </Button>
          <input
            ref={file}
            type="file"
            aria-hidden
            multiple
            aria-label={`File to show with the ${what}`}
            accept="image/*,.pdf,.pptx,.odp,.musicxml,.mxl,.xml"
            className="sr-only"
            tabIndex={-1}
            onChange={e => {
              void bringAll([...(e.target.files ?? [])]);
              e.target.value = '';
            }}
          />
        </div>
      )}
    </div>
  );
}
