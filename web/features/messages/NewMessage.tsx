import { Send } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { ClassDetail } from '@ecoute/contract/classes';
import { LIMITS } from '@ecoute/contract/limits';
import type { NewSpokenMessage, Reaches } from '@ecoute/contract/spokenMessages';
import { refusalOf, type Refusal } from '../../base/api';
import { deviceShelf } from '../../base/kept/shelf';
import { useAsksBeforeUnload } from '../../base/useAsksBeforeUnload';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { useVoiceMessage } from '../../parts/recorder/useVoiceMessage';
import { VoiceControls } from '../../parts/recorder/VoiceControls';
import { Segments } from '../../parts/Segments';
import { Tick } from '../../parts/Tick';
import { useSessionQuery } from '../signIn/endpoints';
import { useTellMutation } from './endpoints';

const WHOLE = 'all';
const SOME = 'some';

interface Draft {
  title: string;
  words: string;
  /** The whole class, some students, or the id of a group. */
  to: string;
  picked: readonly string[];
  reaches: Reaches;
}
const NOTHING: Draft = { title: '', words: '', to: WHOLE, picked: [], reaches: 'students' };

/** Says something: to whom, what it is about, the voice, and its words for whoever reads it. */
export function NewMessage({ of, firstFor }: { of: ClassDetail; firstFor: string | null }) {
  const sendsMail = useSessionQuery().data?.sendsMail ?? false;
  const [tell] = useTellMutation();
  const students = of.members.filter(m => m.role === 'student');
  const isGroup = (id: string | null) => of.groups.some(g => g.id === id);
  // What is typed, for whom, and what is spoken are there again after a reload: what was begun for one is not sent to another.
  const name = firstFor ? `speak to ${firstFor} of ${of.id}` : `speak to ${of.id}`;
  const shelf = useMemo(() => deviceShelf<Draft>(name), [name]);
  const [draft, setDraft] = useState<Draft>(() => ({
    ...NOTHING,
    ...(isGroup(firstFor) && { to: firstFor! }),
    ...(students.some(s => s.id === firstFor) && { to: SOME, picked: [firstFor!] }),
    ...shelf.get()?.value,
  }));
  const { reaches } = draft;
  // A group that is gone does not become the whole class.
  const to = draft.to === WHOLE || isGroup(draft.to) ? draft.to : SOME;
  const [sending, setSending] = useState(false);
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  const [told, setTold] = useState<string | null>(null);
  /** The same message when it is sent once more. */
  const id = useRef(crypto.randomUUID());
  const voice = useVoiceMessage(LIMITS.messageMs, { aside: name });
  useAsksBeforeUnload(voice.running !== null);
  const change = (changed: Partial<Draft>) => {
    const value = { ...draft, ...changed };
    setDraft(value);
    setRefusal(null);
    shelf.put({ value, revision: 0 });
  };
  const going = students.filter(s =>
    to === WHOLE ? true : to === SOME ? draft.picked.includes(s.id) : s.groupIds.includes(to),
  );
  const addresses = going.reduce((sum, s) => sum + s.families, 0);
  const without = going.filter(s => s.families === 0);
  const goesTo = [
    reaches !== 'families' && `${going.length} ${going.length === 1 ? 'student' : 'students'}`,
    reaches !== 'students' && `${addresses} ${addresses === 1 ? 'address' : 'addresses'} of families`,
  ]
    .filter(Boolean)
    .join(' and ');
  const isReady =
    voice.message !== null &&
    draft.title.trim() !== '' &&
    (reaches === 'families' ? addresses : going.length) > 0;

  const send = async () => {
    const { message } = voice;
    if (!message || !isReady) return;
    setSending(true);
    setRefusal(null);
    const wanted: NewSpokenMessage = {
      id: id.current,
      voice: { recordingId: message.id, mediaType: message.mediaType },
      title: draft.title,
      words: draft.words,
      groupId: to === WHOLE || to === SOME ? null : to,
      studentIds: to === SOME ? going.map(s => s.id) : null,
      reaches,
    };
    try {
      const isTold = await voice.send(
        { url: `/api/classes/${of.id}/spoken-messages`, body: { ...wanted } },
        () => tell({ classId: of.id, wanted }).unwrap(),
      );
      setTold(
        isTold
          ? `On its way to ${goesTo}.`
          : 'There is no network. The message is kept on this device, and goes out when the network is back and Ecoute is open here.',
      );
      id.current = crypto.randomUUID();
      setDraft({ ...draft, title: '', words: '' });
      shelf.put(null);
    } catch (error) {
      setRefusal(
        refusalOf(error) ?? {
          status: 0,
          code: 'away',
          message: 'This could not be sent just now. It is still here; send it again.',
        },
      );
    } finally {
      setSending(false);
    }
  };
  const wrong = (field: string) => refusal?.fields?.[field] ?? null;
  return (
    <form
      aria-label="A new message"
      className="grid gap-5 bg-sheet p-5"
      onSubmit={event => {
        event.preventDefault();
        void send();
      }}
    >
      <div className="grid gap-5 sm:grid-cols-2">
        <Field label="For" error={wrong('studentIds')}>
          {ties => (
            <select
              {...ties}
              value={to}
              onChange={e => change({ to: e.target.value })}
              className={inputClass}
            >
              <option value={WHOLE}>The whole class ({students.length})</option>
              {of.groups.map(g => (
                <option key={g.id} value={g.id}>
                  {g.name} ({students.filter(s => s.groupIds.includes(g.id)).length})
                </option>
              ))}
              <option value={SOME}>Some students …</option>
            </select>
          )}
        </Field>
        <div>
          <p className="mb-1 text-sm font-semibold">Who hears it</p>
          <Segments
            label="Who hears it"
            value={reaches}
            options={[
              { value: 'students', name: 'Students' },
              { value: 'families', name: 'Families' },
              { value: 'both', name: 'Both' },
            ]}
            onChange={value => change({ reaches: value })}
          />
        </div>
      </div>
      {to === SOME && (
        <fieldset className="grid max-h-56 gap-x-6 overflow-y-auto border-y border-line py-1 sm:grid-cols-2">
          <legend className="sr-only">Which students</legend>
          {students.map(s => (
            <Tick
              key={s.id}
              checked={draft.picked.includes(s.id)}
              onChange={on => {
                const others = draft.picked.filter(id => id !== s.id);
                change({ picked: on ? [...others, s.id] : others });
              }}
            >
              {s.displayName}
            </Tick>
          ))}
        </fieldset>
      )}
      {reaches !== 'students' && !sendsMail && (
        <Notice kind="trouble">
          No mail goes out from this Ecoute yet, so families cannot be reached. Whoever looks after it sets
          that up; until then choose the students.
        </Notice>
      )}
      {reaches !== 'students' && without.length > 0 && (
        <p className="text-sm text-soft">
          {without.length === going.length
            ? 'No address of a family is kept for them. '
            : `No address of a family: ${without.map(s => s.displayName).join(', ')}. `}
          Addresses are added on the page of the class, in the menu of each student, or by a list.
        </p>
      )}
      {wrong('reaches') && <Notice kind="trouble">{wrong('reaches')}</Notice>}
      <Field label="What it is about" error={wrong('title')}>
        {ties => (
          <input
            {...ties}
            dir="auto"
            maxLength={LIMITS.title}
            value={draft.title}
            onChange={e => change({ title: e.target.value })}
            className={inputClass}
          />
        )}
      </Field>
      <VoiceControls
        voice={voice}
        limitMs={LIMITS.messageMs}
        title="Your message"
        label="your message"
        isMain
      />
      <Field
        label="The same in words"
        hint="For whoever cannot listen just now, or reads it with a dictionary. It stands in the mail, under the waveform."
        error={wrong('words')}
      >
        {ties => (
          <textarea
            {...ties}
            rows={3}
            dir="auto"
            maxLength={LIMITS.messageWords}
            value={draft.words}
            onChange={e => change({ words: e.target.value })}
            className={inputClass}
          />
        )}
      </Field>
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      {voice.trouble && <Notice kind="trouble">{voice.trouble}</Notice>}
      {told && !voice.message && <Notice>{told}</Notice>}
      <div className="flex flex-wrap items-center gap-4">
        <Button
          look="main"
          type="submit"
          disabled={!isReady || sending || (reaches !== 'students' && !sendsMail)}
        >
          <Send aria-hidden className="size-5" /> Send
        </Button>
        <p className="text-soft">
          {!voice.message
            ? 'Nothing is recorded yet.'
            : draft.title.trim() === ''
              ? 'Say in a few words what it is about.'
              : isReady
                ? `Goes to ${goesTo}.`
                : 'Nobody would hear it: choose who it is for.'}
        </p>
      </div>
    </form>
  );
}
