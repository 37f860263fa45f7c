import { contributeByMs, givenBy } from '@ecoute/core/discussions/talk';
import { opennessAt } from '@ecoute/core/timing/sittingState';
import { LIMITS } from '@ecoute/contract/limits';
import type {
  Contribution,
  Hide,
  LeadView,
  NewContribution,
  PutIn,
  ShareOut,
} from '@ecoute/contract/discussions';
import type { Me } from '@ecoute/contract/people';
import { insertForPeople } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { codeNames } from '../releases/names';
import { participantsOf } from '../releases/participants.store';
import { namesSecretOf, timesOf } from '../releases/store';
import { sharedOut, shareOut } from './circles';
import { discussionOf, refuseEmpty, refuseUnheardOf, refuseUnsound, type Discussions } from './service';
import * as store from './store';
import { authorKey, saidIn, shownTo, type Viewer } from './view';

/** Leading a discussion: hearing all of it, speaking in it, letting in, hiding, sharing out. */
export class Leading {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly discussions: Discussions,
  ) {}

  async view(teacher: Me, releaseId: string): Promise<LeadView> {
    const { release, plan } = await discussionOf(this.pool, releaseId);
    const circles = await transaction(this.pool, db => sharedOut(db, release));
    const all = await store.contributionsOf(this.pool, releaseId, teacher.id);
    const viewer = await this.discussions.viewer(teacher, releaseId, all, {
      circle: null,
      isBeforeOwn: false,
      shown: true,
      leads: true,
    });
    const codeName = await codeNames(this.pool, release);
    const contributions = shownTo(withCodes(viewer, codeName), all);
    const said = saidIn(all);
    const secret = await namesSecretOf(this.pool, releaseId);
    const people = await store.peopleOf(this.pool, releaseId);
    const times = timesOf(release);
    const now = Date.now();
    return {
      releaseId,
      classId: release.classId,
      title: release.content.title,
      className: release.className,
      content: release.content,
      dueAt: release.dueAt.toISOString(),
      contributeBy: new Date(
        contributeByMs(release.dueAt.getTime(), plan.contributeDaysBefore),
      ).toISOString(),
      openness: opennessAt(times, now),
      contributions,
      people: people
        .map(p => {
          const last = said.filter(s => s.authorId === p.id).at(-1);
          return {
            author: authorKey(secret, p.id),
            name: codeName ? codeName(p.id) : p.name,
            personId: codeName ? null : p.id,
            circle: circles?.get(p.id) ?? 0,
            given: givenBy(said, p.id),
            lastAt: last ? new Date(last.atMs).toISOString() : null,
            remindedAt: codeName ? null : (p.remindedAt?.toISOString() ?? null),
            excused: Boolean(p.excused),
            left: !p.inClass,
          };
        })
        .sort((a, b) => a.name.localeCompare(b.name)),
      circles: [...new Set(circles?.values() ?? [])].sort((a, b) => a - b),
      namesHidden: codeName !== null,
      now: new Date(now).toISOString(),
    };
  }

  /** One contribution, for a page that was told of it; null where it is seen only together with others. */
  async one(teacher: Me, releaseId: string, id: string): Promise<{ contribution: Contribution | null }> {
    const { release } = await discussionOf(this.pool, releaseId);
    const found = await this.discussions.withParent(releaseId, id);
    if (!found) return { contribution: null };
    const viewer = await this.discussions.viewer(teacher, releaseId, found, {
      circle: null,
      isBeforeOwn: false,
      shown: true,
      leads: true,
    });
    const codeName = await codeNames(this.pool, release);
    return { contribution: shownTo(withCodes(viewer, codeName), found).find(c => c.id === id) ?? null };
  }

  /** What a discussion is called. */
  async titleOf(releaseId: string): Promise<string> {
    return (await discussionOf(this.pool, releaseId)).release.content.title;
  }

  /** Announces something a teacher speaks. Twice is once. @throws Trouble notFound for an id that is taken */
  async announce(teacher: Me, releaseId: string, wanted: NewContribution): Promise<{ id: string }> {
    const id = wanted.recordingId;
    await transaction(this.pool, async db => {
      const { release, talk } = await discussionOf(db, releaseId);
      const known = await store.findContribution(db, releaseId, id);
      if (known) {
        if (known.authorId !== teacher.id) throw notFound();
        return;
      }
      await this.recordings.announce(db, {
        id,
        ownerId: teacher.id,
        purpose: 'reply',
        assessmentId: null,
        wanted: 'sound',
        announcedType: wanted.mediaType,
        fileName: null,
        // A teacher who explains may take longer than is asked of others.
        limitMs: Math.max(talk.answerLimitMs, LIMITS.voiceReplyMs),
      });
      if ((await store.contributionsWith(db, [id])).length > 0) throw notFound();
      await this.insert(db, teacher, releaseId, id, id);
      await this.discussions.place(db, release, teacher.id, id, wanted.place, true);
    });
    return { id };
  }

  private insert(db: Queryable, teacher: Me, releaseId: string, id: string, voiceId: string | null) {
    return store.insertContribution(db, {
      id,
      releaseId,
      circle: 0,
      sittingId: null,
      itemId: null,
      authorId: teacher.id,
      voiceId,
    });
  }

  /** Puts in what a teacher spoke, or words alone. Twice is once. */
  async putIn(teacher: Me, releaseId: string, id: string, said: PutIn): Promise<LeadView> {
    await transaction(this.pool, async db => {
      const { release } = await discussionOf(db, releaseId);
      const known = await store.findContribution(db, releaseId, id);
      if (known && known.authorId !== teacher.id) throw notFound();
      if (known?.putInAt) return;
      if (!known) {
        refuseUnheardOf(said);
        refuseEmpty(said.words.trim());
        if ((await store.contributionsWith(db, [id])).length > 0) throw notFound();
        await this.insert(db, teacher, releaseId, id, null);
      }
      if (known) refuseUnsound(known);
      await this.discussions.place(db, release, teacher.id, id, said.place, true);
      await store.putIn(db, id, { title: said.title.trim(), words: said.words.trim(), isLetIn: true });
      await this.discussions.afterwards(db, id, true);
    });
    return this.view(teacher, releaseId);
  }

  /** Takes a teacher's own back; also where somebody has replied, whose reply keeps its place. */
  async takeBack(teacher: Me, releaseId: string, id: string): Promise<LeadView> {
    await this.change(releaseId, id, async (db, row) => {
      if (row.authorId !== teacher.id) throw notFound();
      await store.takeBack(db, id);
    });
    return this.view(teacher, releaseId);
  }

  async bringBack(teacher: Me, releaseId: string, id: string): Promise<LeadView> {
    await this.change(releaseId, id, async (db, row) => {
      if (row.authorId !== teacher.id) throw notFound();
      await store.bringBack(db, id);
    });
    return this.view(teacher, releaseId);
  }

  /** Lets others hear what waits for its teacher. */
  async letIn(teacher: Me, releaseId: string, id: string): Promise<LeadView> {
    const lets = async (db: Queryable, row: store.ContributionRow) => {
      if (!row.putInAt) throw notFound();
      await store.letIn(db, id);
    };
    await this.change(releaseId, id, lets, true);
    return this.view(teacher, releaseId);
  }

  /** Takes a contribution out of everybody's hearing but its author's and the teachers'; it is kept, and its author told why. */
  async hide(teacher: Me, releaseId: string, id: string, { reason }: Hide): Promise<LeadView> {
    await this.change(releaseId, id, async (db, row) => {
      if (!row.putInAt) throw notFound();
      await store.hide(db, id, { by: teacher.id, reason: reason.trim() });
    });
    return this.view(teacher, releaseId);
  }

  async show(teacher: Me, releaseId: string, id: string): Promise<LeadView> {
    await this.change(releaseId, id, db => store.hide(db, id, null));
    return this.view(teacher, releaseId);
  }

  private change(
    releaseId: string,
    id: string,
    change: (db: Queryable, row: store.ContributionRow) => Promise<void>,
    hasCome = false,
  ): Promise<void> {
    return transaction(this.pool, async db => {
      const row = await store.findContribution(db, releaseId, id);
      if (!row) throw notFound();
      await change(db, row);
      await this.discussions.afterwards(db, id, hasCome);
    });
  }

  /** Shares people out into circles, by lot, by groups or by hand. */
  async shareOut(teacher: Me, releaseId: string, wanted: ShareOut): Promise<LeadView> {
    await transaction(this.pool, async db => {
      const { release } = await discussionOf(db, releaseId);
      await shareOut(db, release, wanted);
      const people = await participantsOf(db, releaseId);
      await insertForPeople(db, { kind: 'discussion', subjectId: releaseId }, people);
    });
    return this.view(teacher, releaseId);
  }
}

/** Names are hidden from whoever marks until the feedback, as everywhere else. */
function withCodes(viewer: Viewer, codeName: ((personId: string) => string) | null): Viewer {
  if (!codeName) return viewer;
  return {
    ...viewer,
    called: row =>
      row.sittingId ? { authorName: codeName(row.authorId), number: null } : viewer.called(row),
  };
}
