import { Mic, Send, Trash2 } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { ClassDetail } from '@ecoute/contract/classes';
import { LIMITS } from '@ecoute/contract/limits';
import type { NewSpokenMessage, Reaches } from '@ecoute/contract/spokenMessages';
import { clock } from '@ecoute/core/timing/words';
import { refusalOf, type Refusal } from '../../base/api';
import { deviceShelf } from '../../base/kept/shelf';
import { useAsksBeforeUnload } from '../../base/useAsksBeforeUnload';
import { useMe } from '../../base/useMe';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { PlayButton } from '../../parts/player/PlayButton';
import { desk } from '../../parts/recorder/delivery';
import { useVoiceMessage } from '../../parts/recorder/useVoiceMessage';
import { VoiceRecorder } from '../../parts/recorder/VoiceRecorder';
import { Segments } from '../../parts/Segments';
import { Tick } from '../../parts/Tick';
import { useSessionQuery } from '../signIn/endpoints';
import { useTellMutation } from './endpoints';

interface Typed {
  title: string;
  words: string;
}
const NOTHING: Typed = { title: '', words: '' };
const WHOLE = 'all';
const SOME = 'some';

/** Says something: to whom, what it is about, the voice, and its words for whoever reads it. */
export function NewMessage({ of, firstFor }: { of: ClassDetail; firstFor: string | null }) {
  const me = useMe();
  const sendsMail = useSessionQuery().data?.sendsMail ?? false;
  const [tell] = useTellMutation();
  const students = of.members.filter(m => m.role === 'student');
  const isOne = students.some(s => s.id === firstFor);
  const [to, setTo] = useState(isOne ? SOME : of.groups.some(g => g.id === firstFor) ? firstFor! : WHOLE);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set(isOne ? [firstFor!] : []));
  const [reaches, setReaches] = useState<Reaches>('students');
  // What is typed is there again after a reload; a voice is kept once it is sent.
  const shelf = useMemo(() => deviceShelf<Typed>(`speak to ${of.id}`), [of.id]);
  const [typed, setTyped] = useState(() => shelf.get()?.value ?? NOTHING);
  const [sending, setSending] = useState(false);
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  const [told, setTold] = useState<string | null>(null);
  /** The same message when it is sent once more. */
  const id = useRef(crypto.randomUUID());
  const voice = useVoiceMessage(LIMITS.messageMs);
  useAsksBeforeUnload(voice.running !== null || voice.message !== null);
  const type = (change: Partial<Typed>) => {
    const value = { ...typed, ...change };
    setTyped(value);
    setRefusal(null);
    shelf.put({ value, revision: 0 });
  };
  const going = students.filter(s =>
    to === WHOLE ? true : to === SOME ? picked.has(s.id) : s.groupIds.includes(to),
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
    typed.title.trim() !== '' &&
    (reaches === 'families' ? addresses : going.length) > 0;

  const send = async () => {
    const { message } = voice;
    if (!message || !isReady) return;
    setSending(true);
    setRefusal(null);
    const wanted: NewSpokenMessage = {
      id: id.current,
      voice: { recordingId: message.id, mediaType: message.mediaType },
      title: typed.title,
      words: typed.words,
      groupId: to === WHOLE || to === SOME ? null : to,
      studentIds: to === SOME ? [...picked] : null,
      reaches,
    };
    try {
      let isAway = false;
      await tell({ classId: of.id, wanted })
        .unwrap()
        .catch((error: unknown) => {
          // Without a network it is kept on this device and told of later; what the server refuses stays here.
          if (refusalOf(error)?.status !== 0) throw error;
          isAway = true;
        });
      await desk.whole(
        {
          id: message.id,
          personId: me.id,
          mediaType: message.mediaType,
          // Told once more it is the same message.
          announce: { url: `/api/classes/${of.id}/spoken-messages`, body: { ...wanted } },
          place: {},
          beganAt: new Date().toISOString(),
          ended: false,
          refusal: null,
        },
        message.blob,
      );
      setTold(
        isAway
          ? 'There is no network. The message is kept on this device, and goes out when the network is back and Ecoute is open here.'
          : `On its way to ${goesTo}.`,
      );
      id.current = crypto.randomUUID();
      setTyped(NOTHING);
      shelf.put(null);
      voice.drop();
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
            <select {...ties} value={to} onChange={e => setTo(e.target.value)} className={inputClass}>
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
            onChange={value => {
              setReaches(value);
              setRefusal(null);
            }}
          />
        </div>
      </div>
      {to === SOME && (
        <fieldset className="grid max-h-56 gap-x-6 overflow-y-auto border-y border-line py-1 sm:grid-cols-2">
          <legend className="sr-only">Which students</legend>
          {students.map(s => (
            <Tick
              key={s.id}
              checked={picked.has(s.id)}
              onChange={on => {
                const next = new Set(picked);
                if (on) next.add(s.id);
                else next.delete(s.id);
                setPicked(next);
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
            value={typed.title}
            onChange={e => type({ title: e.target.value })}
            className={inputClass}
          />
        )}
      </Field>
      {voice.running || voice.ready ? (
        <VoiceRecorder voice={voice} limitMs={LIMITS.messageMs} />
      ) : (
        <div className="flex flex-wrap items-center gap-2">
          {voice.message && (
            <PlayButton
              track={{
                id: voice.message.id,
                url: voice.message.url,
                title: 'Your message',
                voice: 'teacher',
                durationMs: voice.message.durationMs,
              }}
              label="your message"
              text={clock(voice.message.durationMs)}
            />
          )}
          {voice.message && (
            <Button look="quiet" aria-label="Leave the recording out" onClick={voice.drop}>
              <Trash2 aria-hidden className="size-5" />
            </Button>
          )}
          <Button look={voice.message ? 'plain' : 'main'} onClick={() => void voice.prepare()}>
            <Mic aria-hidden className="size-5" />
            {voice.message ? 'Record again' : 'Speak'}
          </Button>
        </div>
      )}
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
            value={typed.words}
            onChange={e => type({ words: e.target.value })}
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
            : typed.title.trim() === ''
              ? 'Say in a few words what it is about.'
              : isReady
                ? `Goes to ${goesTo}.`
                : 'Nobody would hear it: choose who it is for.'}
        </p>
      </div>
    </form>
  );
}
