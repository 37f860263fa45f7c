import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { Reach, ReleaseEntry } from '@ecoute/contract/releases';
import { opennessAt } from '@ecoute/core/timing/sittingState';
import { refusalOf } from '../../../base/api';
import { serverNow } from '../../../base/clock';
import { Button, ButtonLink } from '../../../parts/Button';
import { Segments } from '../../../parts/Segments';
import { when } from '../../../parts/when';
import {
  useChangeReleaseMutation,
  useChangeSeriesMutation,
  useMoveReleasesMutation,
  useTakeBackSeriesMutation,
} from '../endpoints';
import { draftOf, termsAsTheyAre, termsOf, timesOf } from '../terms';

const REACH_WORDS: Record<Reach, string> = { this: 'this one', later: 'later ones too', all: 'all' };

/** So many releases, in words. */
const count = (n: number) => (n === 1 ? 'One release' : `${n} releases`);

/** What can be done with a release on the calendar, alone or with those of its series. */
export function BarCard({
  release,
  zone,
  note,
  onNote,
  onRepeat,
  onDone,
  onTrouble,
}: {
  release: ReleaseEntry;
  zone: string;
  note: string;
  onNote: (note: string) => void;
  onRepeat: () => void;
  /** Something was done: what, and the way back where there is one. */
  onDone: (words: string, undo?: () => Promise<unknown>) => void;
  onTrouble: (message: string | null) => void;
}) {
  const draft = draftOf(release, zone);
  const [reach, setReach] = useState<Reach>('this');
  const [opensTime, setOpensTime] = useState(draft.opensWall.slice(11));
  const [dueTime, setDueTime] = useState(draft.dueWall.slice(11));
  const [isSure, setIsSure] = useState(false);
  const [change, changing] = useChangeSeriesMutation();
  const [putBack] = useChangeReleaseMutation();
  const [move] = useMoveReleasesMutation();
  const [takeBack] = useTakeBackSeriesMutation();
  const isNotYet = opennessAt(timesOf(release), serverNow()) === 'notYet';
  const told = (problem: unknown) => onTrouble(refusalOf(problem)?.message ?? null);
  const send = (over: Partial<typeof draft>, far: Reach, words: (n: number) => string) => {
    // Hidden, it keeps the day it stands on, and is given its hours all the same.
    const hidden = (over.opens ?? draft.opens) === 'byHand';
    const { terms, fields } = termsOf({ ...draft, note, ...over, opens: 'at' }, zone);
    if (!terms) return onTrouble(Object.values(fields)[0] ?? null);
    void change({ id: release.id, reach: far, ...terms, hidden })
      .unwrap()
      .then(({ changed, before, stayed }) => {
        onTrouble(null);
        onDone(`${words(changed.length)}${stayed > 0 ? ` ${count(stayed)} stayed: over already.` : ''}`, () =>
          Promise.all(before.map(r => putBack({ id: r.id, ...termsAsTheyAre(r) }).unwrap())),
        );
      }, told);
  };
  const times = {
    opensWall: `${draft.opensWall.slice(0, 11)}${opensTime}`,
    dueWall: `${draft.dueWall.slice(0, 11)}${dueTime}`,
  };
  const isTimed = times.opensWall !== draft.opensWall || times.dueWall !== draft.dueWall;
  const keepTimes = (far: Reach) =>
    send(
      { ...times },
      far,
      n =>
        `${count(n)} now ${n === 1 ? 'opens' : 'open'} at ${opensTime} and ${n === 1 ? 'is' : 'are'} due at ${dueTime}.`,
    );
  const shift = (days: number) =>
    void move({ releaseIds: [release.id], days, reach })
      .unwrap()
      .then(moved => {
        onTrouble(null);
        const ids = moved.map(r => r.id);
        onDone(`${count(ids.length)} moved a week ${days > 0 ? 'later' : 'earlier'}.`, () =>
          move({ releaseIds: ids, days: -days }).unwrap(),
        );
      }, told);
  const inSeries = release.seriesId !== null;
  /** Its day has begun: shown, it is open at once. */
  const isDue = Date.parse(release.opensAt) <= serverNow();
  return (
    <Popover.Content
      align="start"
      sideOffset={4}
      collisionPadding={8}
      className="z-50 grid max-h-(--radix-popover-content-available-height) w-88 gap-3 overflow-y-auto border-2 border-ink bg-sheet p-4"
    >
      <div>
        <p className="text-lg font-semibold">{release.title}</p>
        <p className="text-sm text-soft">
          {release.className}
          {release.groupName && `, ${release.groupName}`}
        </p>
        <p className="text-sm">
          Opens {when(release.opensAt)}, due {when(release.dueAt)}.
          {release.hidden && ' Hidden until you show it.'}
        </p>
        {isNotYet && (
          <p className="text-sm text-soft">
            {release.follows
              ? 'It follows its assessment until it opens.'
              : 'It is held as it was when it was planned.'}
          </p>
        )}
      </div>
      <label className="grid gap-1 text-sm font-semibold">
        A line for the class
        <input
          value={note}
          onChange={e => onNote(e.target.value)}
          onKeyDown={e => e.key === 'Enter' && send({}, 'this', () => 'The line is kept.')}
          className="min-h-10 border-2 border-edge bg-sheet px-2 font-normal"
        />
      </label>
      <div className="flex flex-wrap items-end gap-2">
        {(
          [
            ['Opens at', opensTime, setOpensTime],
            ['Due at', dueTime, setDueTime],
          ] as const
        ).map(([label, value, set]) => (
          <label key={label} className="grid gap-1 text-sm font-semibold">
            {label}
            <input
              type="time"
              value={value}
              onChange={e => e.target.value && set(e.target.value)}
              className="tabular min-h-10 border-2 border-edge bg-sheet px-2 font-normal"
            />
          </label>
        ))}
      </div>
      {isTimed && (
        <div className="grid gap-1">
          <p className="text-sm font-semibold">Keep these times for</p>
          <div className="flex flex-wrap gap-1">
            {(inSeries ? (['this', 'later', 'all'] as const) : (['this'] as const)).map(far => (
              <Button
                key={far}
                className="px-3"
                disabled={changing.isLoading}
                aria-label={`Keep these times for ${REACH_WORDS[far]}`}
                onClick={() => keepTimes(far)}
              >
                {REACH_WORDS[far]}
              </Button>
            ))}
          </div>
        </div>
      )}
      {inSeries && (
        <div className="grid gap-1 border-t border-line pt-2">
          <p className="text-sm font-semibold">What follows is for</p>
          <Segments
            label="What follows is for"
            value={reach}
            options={(['this', 'later', 'all'] as const).map(value => ({ value, name: REACH_WORDS[value] }))}
            onChange={value => {
              setIsSure(false);
              setReach(value);
            }}
          />
        </div>
      )}
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => shift(-7)}>A week earlier</Button>
        <Button onClick={() => shift(7)}>A week later</Button>
        {release.hidden ? (
          <Button
            onClick={() =>
              send({ opens: 'at' }, reach, n =>
                isDue
                  ? `${count(n)} shown: what has begun is open now.`
                  : `${count(n)} ${n === 1 ? 'opens' : 'open'} on ${n === 1 ? 'its' : 'their'} day.`,
              )
            }
          >
            {isDue ? 'Show it now' : 'Show on the day'}
          </Button>
        ) : (
          <Button
            onClick={() =>
              send(
                { opens: 'byHand' },
                reach,
                n => `${count(n)} hidden until you show ${n === 1 ? 'it' : 'them'}.`,
              )
            }
          >
            Hide
          </Button>
        )}
        {!isSure && (
          <Button look="quiet" onClick={() => setIsSure(true)}>
            Take back …
          </Button>
        )}
      </div>
      {isSure && (
        <div role="alert" className="grid gap-2 border-s-4 border-ink ps-3">
          <p className="text-sm">
            {reach === 'this'
              ? 'It goes'
              : reach === 'later'
                ? 'This one and the later ones go'
                : 'All of the series go'}{' '}
            off the calendar. What somebody has begun stays. The assessment stays on your shelf.
          </p>
          <div className="flex flex-wrap gap-2">
            <Button
              look="main"
              onClick={() =>
                void takeBack({ id: release.id, reach })
                  .unwrap()
                  .then(({ taken, stayed }) => {
                    onTrouble(null);
                    onDone(
                      `${count(taken)} taken back.${stayed > 0 ? ` ${count(stayed)} stayed: begun already.` : ''}`,
                    );
                  }, told)
              }
            >
              Take back
            </Button>
            <Button onClick={() => setIsSure(false)}>Leave it</Button>
          </div>
        </div>
      )}
      <div className="flex flex-wrap gap-2 border-t border-line pt-3">
        <ButtonLink look="main" to={`/release/${release.id}`}>
          Open it
        </ButtonLink>
        <Popover.Close asChild>
          <Button onClick={onRepeat}>Repeat …</Button>
        </Popover.Close>
      </div>
    </Popover.Content>
  );
}
