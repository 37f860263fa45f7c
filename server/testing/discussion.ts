/** Discussions for tests: set, released, spoken in. */
import { randomUUID } from 'node:crypto';
import type { DiscussionPlan, Item } from '@ecoute/contract/assessments';
import { blankContent, blankDiscussion, blankItem } from '@ecoute/contract/blank';
import type { DiscussionView, LeadView, Place } from '@ecoute/contract/discussions';
import { send, settled, tone, type Answer, type Visitor } from './ecoute';

export interface HeldDiscussion {
  id: string;
  talk: Item;
  page: Item;
}

/** Whichever door somebody comes through. */
export type Door = 'discussion' | 'lead';

/** A discussion of a class, open now: one contribution and one reply are asked for, a page is there to begin at. */
export async function heldDiscussion(
  teacher: Visitor,
  classId: string,
  plan: Partial<DiscussionPlan> = {},
  { dueInMs = 3_600_000, ...terms }: { dueInMs?: number } & Record<string, unknown> = {},
): Promise<HeldDiscussion> {
  const talk = blankItem(randomUUID(), 'discussion', { promptText: 'What is a harbour for?', points: 5 });
  const page = blankItem(randomUUID(), 'discussion', { answerBy: 'nothing', promptText: 'The ferry' });
  const made = await teacher.ask<{ id: string }>('POST', '/api/assessments', {
    ...blankContent('discussion', { title: 'Harbours', items: [talk, page] }),
    discussion: blankDiscussion({ contributionsAsked: 1, repliesAsked: 1, ...plan }),
  });
  const release = await teacher.ask<{ id: string }>('POST', '/api/releases', {
    assessmentId: made.body.id,
    classId,
    dueAt: new Date(Date.now() + dueInMs).toISOString(),
    lateAccepted: true,
    note: '',
    ...terms,
  });
  if (release.status !== 200) throw new Error(`A discussion was not released: ${release.status}`);
  return { id: release.body.id, talk, page };
}

/** Tells of something spoken before its bytes come. */
export async function announceVoice(
  who: Visitor,
  door: Door,
  releaseId: string,
  place: Place = {},
  over: object = {},
): Promise<Answer & { recordingId: string }> {
  const recordingId = randomUUID();
  const answer = await who.ask('POST', `/api/releases/${releaseId}/${door}/voices`, {
    recordingId,
    mediaType: 'audio/wav',
    beganAt: new Date().toISOString(),
    place,
    ...over,
  });
  return { ...answer, recordingId };
}

/** Something recorded that is not put in yet. @returns its id */
export async function spokenDraft(
  who: Visitor,
  door: Door,
  releaseId: string,
  place: Place = {},
  seconds = 1,
): Promise<string> {
  const { status, recordingId } = await announceVoice(who, door, releaseId, place);
  if (status !== 200) throw new Error(`Something spoken was not announced: ${status}`);
  await send(who, recordingId, tone(seconds));
  await settled(who, recordingId);
  return recordingId;
}

/** Puts in what was spoken; words alone where there are words and `isSpoken` is false. */
export function putIn(
  who: Visitor,
  door: Door,
  releaseId: string,
  id: string,
  place: Place = {},
  { words = '', isSpoken = true }: { words?: string; isSpoken?: boolean } = {},
) {
  return who.ask<DiscussionView & LeadView>('PUT', `/api/releases/${releaseId}/${door}/contributions/${id}`, {
    place,
    title: '',
    words,
    isSpoken,
  });
}
