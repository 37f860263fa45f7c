import { useDroppable } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical, Link2, Mic, Pencil, Plus, Square, Trash2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { BankComment, Topic } from '@ecoute/contract/commentBank';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { useMe } from '../../../base/useMe';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { desk } from '../../../parts/recorder/delivery';
import { LevelMeter } from '../../../parts/recorder/LevelMeter';
import { useVoiceMessage } from '../../../parts/recorder/useVoiceMessage';
import {
  useChangeTopicMutation,
  useRemoveBankCommentMutation,
  useRemoveTopicMutation,
  useSaveBankCommentMutation,
} from './endpoints';

/** A comment while it is written: its words, a page that helps, a clip that is spoken. */
function CommentForm({
  topic,
  comment,
  onDone,
}: {
  topic: Topic;
  comment: BankComment | null;
  /** Kept, or left. */
  onDone: (kept: boolean) => void;
}) {
  const me = useMe();
  const [id] = useState(() => comment?.id ?? crypto.randomUUID());
  const [words, setWords] = useState(comment?.words ?? '');
  const [link, setLink] = useState(comment?.link ?? '');
  const [without, setWithout] = useState(false);
  const [save, saving] = useSaveBankCommentMutation();
  const voice = useVoiceMessage(LIMITS.clipMs);
  const refusal = refusalOf(saving.error);
  const keep = async () => {
    const { message } = voice;
    const kept = await save({
      topicId: topic.id,
      id,
      words,
      link: link.trim(),
      voice: message && { recordingId: message.id, mediaType: message.mediaType },
      withoutVoice: without,
    })
      .unwrap()
      .catch(() => null);
    if (!kept) return;
    if (message)
      await desk.whole(
        {
          id: message.id,
          personId: me.id,
          mediaType: message.mediaType,
          announce: {
            url: `/api/recordings/${message.id}/announced`,
            body: {},
          },
          place: {},
          beganAt: new Date().toISOString(),
          ended: false,
          refusal: null,
        },
        message.blob,
      );
    onDone(true);
  };
  return (
    <form
      className="grid gap-3 border-s-4 border-saffron bg-saffron-wash p-3"
      onSubmit={event => {
        event.preventDefault();
        void keep();
      }}
    >
      <Field
        label={topic.praise ? 'Words of praise' : 'Comment'}
        hint={
          topic.praise ? undefined : '{name} and {time} are filled in when it is put in. Ctrl Enter keeps it.'
        }
        error={refusal?.fields?.words ?? null}
      >
        {ties => (
          <textarea
            {...ties}
            rows={topic.praise ? 1 : 2}
            dir="auto"
            autoFocus
            maxLength={topic.praise ? LIMITS.praise : LIMITS.note}
            value={words}
            onChange={e => setWords(e.target.value)}
            onKeyDown={e => {
              if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey)) return;
              e.preventDefault();
              e.currentTarget.form?.requestSubmit();
            }}
            className={inputClass}
          />
        )}
      </Field>
      {!topic.praise && (
        <Field label="A page that helps" error={refusal?.fields?.link ?? null}>
          {ties => (
            <input
              {...ties}
              type="url"
              placeholder="https://"
              maxLength={LIMITS.link}
              value={link}
              onChange={e => setLink(e.target.value)}
              className={inputClass}
            />
          )}
        </Field>
      )}
      {voice.running ? (
        <div className="grid items-center gap-3 border-2 border-vermilion bg-vermilion-wash p-3 sm:grid-cols-[auto_minmax(0,1fr)_auto]">
          <span className="tabular text-xl">{clock(voice.elapsedMs)}</span>
          <LevelMeter analyser={voice.running.microphone.analyser} recording />
          <Button look="record" onClick={() => void voice.stop()}>
            <Square aria-hidden className="size-5 fill-current" /> Stop
          </Button>
        </div>
      ) : (
        <div className="flex flex-wrap items-center gap-2">
          {!topic.praise && (
            <>
              {voice.message ? (
                <PlayButton
                  track={{
                    id: voice.message.id,
                    url: voice.message.url,
                    title: 'The clip',
                    voice: 'teacher',
                    durationMs: voice.message.durationMs,
                  }}
                  label="the clip"
                  text={clock(voice.message.durationMs ?? 0)}
                />
              ) : (
                comment?.voiceId &&
                !without && (
                  <>
                    <PlayButton
                      track={trackOf(comment.voiceId, 'The clip', 'teacher', comment.voiceMs)}
                      label="the clip"
                    />
                    <Button look="quiet" onClick={() => setWithout(true)}>
                      Without the clip
                    </Button>
                  </>
                )
              )}
              <Button onClick={() => void voice.speak()}>
                <Mic aria-hidden className="size-5" /> {voice.message ? 'Speak it again' : 'Speak a clip'}
              </Button>
            </>
          )}
          <Button look="main" type="submit" disabled={words.trim() === '' || saving.isLoading}>
            Keep it
          </Button>
          <Button look="quiet" type="button" onClick={() => onDone(false)}>
            Leave it
          </Button>
        </div>
      )}
      {voice.trouble && <Notice kind="trouble">{voice.trouble}</Notice>}
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
    </form>
  );
}

function CommentRow({ topic, comment }: { topic: Topic; comment: BankComment }) {
  const [editing, setEditing] = useState(false);
  const [remove] = useRemoveBankCommentMutation();
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: comment.id,
  });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`bg-sheet ${isDragging ? 'relative z-10 outline-2 outline-ink' : ''}`}
    >
      {editing ? (
        <CommentForm topic={topic} comment={comment} onDone={() => setEditing(false)} />
      ) : (
        <div className="flex flex-wrap items-start justify-end gap-x-2 px-2 py-1">
          <button
            type="button"
            {...attributes}
            {...listeners}
            aria-label={`Move “${comment.words.slice(0, 40)}”`}
            className="grid size-9 shrink-0 cursor-grab touch-none place-items-center"
          >
            <GripVertical aria-hidden className="size-5" />
          </button>
          <span
            dir="auto"
            className="min-w-0 flex-1 py-1.5 whitespace-pre-wrap max-sm:basis-[calc(100%-3rem)]"
          >
            {comment.words}
            {comment.link && (
              <a
                href={comment.link}
                target="_blank"
                rel="noreferrer"
                className="ms-2 inline-flex items-center gap-1 text-sm underline underline-offset-4"
              >
                <Link2 aria-hidden className="size-4" /> {new URL(comment.link).host}
              </a>
            )}
          </span>
          {comment.voiceId && comment.voiceState === 'stored' && (
            <PlayButton
              track={trackOf(comment.voiceId, comment.words, 'teacher', comment.voiceMs)}
              label="the clip"
              text={comment.voiceMs === null ? undefined : clock(comment.voiceMs)}
            />
          )}
          <span className="tabular w-16 shrink-0 py-1.5 text-end text-sm text-soft">
            {comment.used > 0 ? `${comment.used} ×` : ''}
          </span>
          <Button
            look="quiet"
            aria-label={`Change “${comment.words.slice(0, 40)}”`}
            onClick={() => setEditing(true)}
          >
            <Pencil aria-hidden className="size-5" />
          </Button>
          <Button
            look="quiet"
            aria-label={`Take away “${comment.words.slice(0, 40)}”`}
            onClick={() => void remove({ topicId: topic.id, id: comment.id })}
          >
            <Trash2 aria-hidden className="size-5" />
          </Button>
        </div>
      )}
    </li>
  );
}

/** One topic: renamed where it stands, its comments in the teacher's own order. */
export function TopicEditor({ topic, isNew }: { topic: Topic; isNew: boolean }) {
  const [adding, setAdding] = useState(false);
  const [greeted, setGreeted] = useState(false);
  // It may be drawn before the page has learnt that this is the one just made.
  if (isNew && !greeted) {
    setGreeted(true);
    setAdding(topic.comments.length === 0);
  }
  const [name, setName] = useState(topic.name);
  const [change] = useChangeTopicMutation();
  const [remove] = useRemoveTopicMutation();
  const section = useRef<HTMLElement | null>(null);
  // What lies in a topic takes what is dragged to it; an empty one takes it itself.
  const { setNodeRef } = useDroppable({ id: topic.id, disabled: topic.comments.length > 0 });
  useEffect(() => {
    if (isNew) section.current?.scrollIntoView({ block: 'start' });
  }, [isNew]);
  return (
    <section
      ref={element => {
        section.current = element;
        setNodeRef(element);
      }}
      id={`topic-${topic.id}`}
      aria-label={topic.name}
      className="scroll-mt-28 bg-sheet p-3"
    >
      <div className="flex items-center gap-2">
        <input
          aria-label="Name of the topic"
          dir="auto"
          maxLength={LIMITS.title}
          value={name}
          onChange={e => setName(e.target.value)}
          onBlur={() => {
            if (name.trim() === '') setName(topic.name);
            else if (name !== topic.name) void change({ id: topic.id, name });
          }}
          className="min-h-11 min-w-0 flex-1 border-b-2 border-transparent bg-transparent text-lg font-semibold hover:border-line focus:border-ink"
        />
        <span className="text-sm text-soft">
          {topic.praise && 'praise'} {topic.departmentName}
        </span>
        <Button
          look="quiet"
          aria-label={`Take away the topic ${topic.name}`}
          onClick={() => void remove(topic.id)}
        >
          <Trash2 aria-hidden className="size-5" />
        </Button>
      </div>
      <SortableContext items={topic.comments.map(c => c.id)} strategy={verticalListSortingStrategy}>
        <ul className="grid grid-cols-1 gap-px bg-line">
          {topic.comments.map(c => (
            <CommentRow key={c.id} topic={topic} comment={c} />
          ))}
        </ul>
      </SortableContext>
      {adding ? (
        <CommentForm
          key={topic.comments.length}
          topic={topic}
          comment={null}
          onDone={kept => setAdding(kept)}
        />
      ) : (
        <Button look="quiet" onClick={() => setAdding(true)}>
          <Plus aria-hidden className="size-5" /> {topic.praise ? 'Another praise' : 'Another comment'}
        </Button>
      )}
    </section>
  );
}
