import type { StudentLanguage } from '@ecoute/contract/languages';
import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { Peaks } from '@ecoute/core/audio/peaks';
import { fileNameOf } from '@ecoute/core/formats/fileNames';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { completed } from '@ecoute/contract/blank';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import type {
  NewPortfolioAddress,
  NewPortfolioFile,
  OwnPortfolios,
  PortfolioAddress,
  PortfolioContent,
  PortfolioSuggestion,
  PortfolioSummary,
  PortfolioTake,
  PortfolioView,
  SavePortfolio,
  ShownPiece,
  ShownPortfolio,
  StudentPortfolios,
  SuggestForPortfolio,
} from '@ecoute/contract/portfolios';
import { teachesStudent } from '../../platform/access/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { endingOf, packed, type Packed, type Zip } from '../../platform/packing';
import { jpegOf } from '../../platform/paper/jpeg';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { inOrder } from '../sittings/situation';
import { portfolioPage, deadPage } from './page';
import { portfolioPaper } from './paper';
import * as store from './store';

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** What was thrown away is had back for so long; what was brought and stands nowhere is kept as long. */
const KEPT_DAYS = 30;

/** What students choose of their recordings, to keep and to show to whom they want. */
export class Portfolios {
  /** How far the sweep has come through what was brought. */
  private sweptTo: string | null = null;

  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    jobs: JobQueue,
    private readonly baseUrl: string,
  ) {
    jobs.onSweep(() => this.forgetOld());
  }

  /** What there is, what was thrown away lately, and what teachers suggest. */
  async list(student: Me): Promise<OwnPortfolios> {
    const all = await store.portfoliosOf(this.pool, student.id);
    const addresses = await store.addressesOf(
      this.pool,
      all.map(p => p.id),
    );
    const summaries = await Promise.all(
      all.map(async (p): Promise<PortfolioSummary> => ({
        id: p.id,
        title: p.content.title,
        pieces: p.content.pieces.length,
        changedAt: p.changedAt.toISOString(),
        addresses: addresses.filter(a => a.portfolioId === p.id && stateOf(a) === 'lives').length,
        shownTo: (await store.teachersOf(this.pool, student.id, p.id))
          .filter(t => t.sees)
          .map(t => t.displayName),
        removedAt: p.removedAt?.toISOString() ?? null,
      })),
    );
    return {
      portfolios: summaries.filter(p => p.removedAt === null),
      removed: summaries.filter(p => p.removedAt !== null),
      suggestions: await this.suggestions(student.id),
    };
  }

  /** An empty one, or one with some recordings in it. @throws Trouble notAllowed for a guest; invalid where there are too many */
  async make(student: Me, content: PortfolioContent): Promise<PortfolioView> {
    if (student.isGuest)
      throw new Trouble(
        'notAllowed',
        'As a guest you have no portfolio, for nothing of a guest is kept for long. Ask the teacher for an account.',
      );
    const id = randomUUID();
    await transaction(this.pool, async db => {
      if ((await store.portfoliosOf(db, student.id)).filter(p => !p.removedAt).length >= LIMITS.portfolios)
        throw new Trouble('invalid', `You have ${LIMITS.portfolios} portfolios. Throw one away first.`);
      await this.check(db, student.id, id, content, null);
      await store.insertPortfolio(db, { id, ownerId: student.id, content });
      await this.settle(db, student.id, content);
    });
    return this.view(id);
  }

  async view(id: string): Promise<PortfolioView> {
    const found = await this.found(this.pool, id);
    const takes = await this.takes(found.ownerId, found.content);
    const teachers = await store.teachersOf(this.pool, found.ownerId, id);
    return {
      id,
      revision: found.revision,
      content: found.content,
      ownerName: found.ownerName,
      takes,
      teachers: teachers.map(t => ({ ...t, sees: Boolean(t.sees) })),
      addresses: (await store.addressesOf(this.pool, [id])).map(a => this.addressView(a)),
    };
  }

  /**
   * Keeps all of it over the wording that the page had.
   * @throws Trouble stale with what stands, when another page saved meanwhile; notFound for what is not the student's own
   */
  async save(student: Me, id: string, { revision, content }: SavePortfolio): Promise<PortfolioView> {
    await transaction(this.pool, async db => {
      const found = await this.found(db, id, true);
      if (found.revision !== revision)
        throw new Trouble('stale', 'This portfolio was changed on another page. Look at both.', {
          current: { revision: found.revision, content: found.content },
        });
      await this.check(db, student.id, id, content, found.content);
      await store.keepContent(db, id, content);
      await this.settle(db, student.id, content);
    });
    return this.view(id);
  }

  /** Thrown away it is shown to nobody from this moment on, and can be had back. */
  async remove(student: Me, id: string, removed: boolean): Promise<OwnPortfolios> {
    await store.setRemoved(this.pool, id, removed);
    return this.list(student);
  }

  /** Makes room for a picture or a spoken reflection. */
  async announce(student: Me, id: string, wanted: NewPortfolioFile): Promise<void> {
    await transaction(this.pool, async db => {
      await this.found(db, id, true);
      await this.recordings.announce(db, {
        id: wanted.recordingId,
        ownerId: student.id,
        purpose: 'portfolio',
        wanted: wanted.wanted,
        assessmentId: null,
        announcedType: wanted.mediaType,
        fileName: null,
        limitMs: wanted.wanted === 'sound' ? LIMITS.voiceReplyMs : 0,
      });
      await store.insertFile(db, id, wanted.recordingId);
    });
  }

  /** Shows it to these teachers of one's own and no others. @throws Trouble notFound for somebody who does not teach them */
  async show(student: Me, id: string, teacherIds: readonly string[]): Promise<PortfolioView> {
    await transaction(this.pool, async db => {
      await this.found(db, id, true);
      const own = await store.teachersOf(db, student.id, id);
      if (teacherIds.some(t => !own.some(o => o.id === t))) throw notFound();
      await store.replaceReaders(db, id, [...new Set(teacherIds)]);
    });
    return this.view(id);
  }

  /** @throws Trouble invalid where there are too many */
  async makeAddress(id: string, { name, days, language }: NewPortfolioAddress): Promise<PortfolioView> {
    await transaction(this.pool, async db => {
      await this.found(db, id, true);
      const live = (await store.addressesOf(db, [id])).filter(a => stateOf(a) === 'lives');
      if (live.length >= LIMITS.addressesOfPortfolio)
        throw new Trouble('invalid', 'There are many addresses already. End one that nobody needs any more.');
      await store.insertAddress(db, {
        id: randomUUID(),
        portfolioId: id,
        name: name.trim(),
        language,
        days,
      });
    });
    return this.view(id);
  }

  async revoke(id: string, addressId: string): Promise<PortfolioView> {
    await store.revokeAddress(this.pool, id, addressId);
    return this.view(id);
  }

  /** A teacher suggests a recording whose feedback is given. @throws Trouble feedbackNotGiven; notAllowed for a guest's */
  async suggest(teacher: Me, sittingId: string, { takeId, words }: SuggestForPortfolio): Promise<void> {
    const take = await store.takeOf(this.pool, sittingId, takeId);
    if (!take) throw notFound();
    if (take.isGuest)
      throw new Trouble('notAllowed', 'Guests have no portfolio, for nothing of them is kept for long.');
    if (!take.feedbackGiven)
      throw new Trouble(
        'feedbackNotGiven',
        'Give feedback on this recording first; then it can be suggested.',
      );
    await store.putSuggestion(this.pool, {
      id: randomUUID(),
      takeId,
      studentId: take.studentId,
      teacherId: teacher.id,
      words: words.trim(),
    });
  }

  /** A suggestion that its student has not answered yet. */
  async takeBack(teacher: Me, takeId: string): Promise<void> {
    await store.takeBackSuggestion(this.pool, takeId, teacher.id);
  }

  async decline(student: Me, takeId: string): Promise<OwnPortfolios> {
    await store.answerSuggestions(this.pool, student.id, [takeId], 'declined');
    return this.list(student);
  }

  /** What a teacher sees of a student's: as long as they teach them. */
  async ofStudent(teacher: Me, studentId: string): Promise<StudentPortfolios> {
    const suggested = await store.suggestedBy(this.pool, teacher.id, studentId);
    const isShown = await teachesStudent(this.pool, teacher.id, studentId);
    const shown = isShown ? await store.shownTo(this.pool, teacher.id, studentId) : [];
    return {
      portfolios: shown.map(p => ({
        id: p.id,
        title: p.content.title,
        pieces: p.content.pieces.length,
        changedAt: p.changedAt.toISOString(),
      })),
      suggested: suggested.map(s => ({ takeId: s.takeId, state: s.answer ?? 'open' })),
    };
  }

  /** A portfolio as others see it. @throws Trouble notFound once it is thrown away */
  async shown(id: string): Promise<ShownPortfolio> {
    return this.shownOf(await this.found(this.pool, id), false);
  }

  /** The page behind a private address; where it leads nowhere any more, a page that says so. */
  async page(addressId: string, language: StudentLanguage, nonce: string) {
    // Half an address, as a mail program may break it, is no address.
    const address = UUID.test(addressId) ? await store.liveAddress(this.pool, addressId) : null;
    if (!address) return { status: 404, html: deadPage(language, nonce) };
    const shown = await this.shown(address.portfolioId);
    const html = portfolioPage(shown, {
      language: address.language,
      sound: id => `/portfolio/${addressId}/sounds/${id}`,
      picture: id => `/portfolio/${addressId}/pictures/${id}`,
      endsAt: address.endsAt,
      nonce,
    });
    return { status: 200, html };
  }

  /** @throws Trouble deadLink for an address that leads nowhere any more, notFound for what is not on its page */
  async fileAt(addressId: string, kind: 'sound' | 'picture', recordingId: string) {
    const address = await store.liveAddress(this.pool, addressId);
    if (!address)
      throw new Trouble(
        'deadLink',
        'This address leads nowhere any more. Whoever gave it can make a new one.',
      );
    return this.file(address.portfolioId, kind, recordingId);
  }

  /** Where a file of a portfolio lies, for whoever it is shown to. @throws Trouble notFound for what is not shown */
  async file(
    id: string,
    kind: 'sound' | 'picture',
    recordingId: string,
  ): Promise<{ path: string; type: string }> {
    const found = await this.found(this.pool, id);
    // Its piece alone is looked at: a player asks for a sound in many parts.
    const piece = found.content.pieces.find(p =>
      kind === 'picture' ? p.pictureId === recordingId : [p.takeId, p.voiceId].includes(recordingId),
    );
    if (!piece) throw notFound();
    const [shown] = (await this.shownOf({ ...found, content: { ...found.content, pieces: [piece] } }, false))
      .pieces;
    if (!shown || ![shown.takeId, shown.voiceId, shown.pictureId].includes(recordingId)) throw notFound();
    return kind === 'picture'
      ? this.recordings.served.showing(recordingId, null)
      : this.recordings.served.playing(recordingId);
  }

  /**
   * On paper.
   * @param addressId where its codes lead; null for paper without codes
   * @throws Trouble deadLink for an address that is over
   */
  async paper(
    id: string,
    addressId: string | null,
    language: StudentLanguage,
  ): Promise<{ pdf: Buffer; name: string }> {
    const address = addressId === null ? null : await store.liveAddress(this.pool, addressId);
    if (addressId !== null && address?.portfolioId !== id)
      throw new Trouble('deadLink', 'This address is over. Make a new one, and print again.');
    const found = await this.found(this.pool, id);
    const shown = await this.shownOf(found, address === null);
    const pdf = await portfolioPaper(shown, {
      language: address?.language ?? language,
      peaksOf: async takeId =>
        JSON.parse(await this.recordings.served.peaks(takeId).catch(() => 'null')) as Peaks | null,
      pictureOf: async pictureId => {
        const picture = await this.recordings.served.showing(pictureId, null).catch(() => null);
        return picture && jpegOf(picture.path);
      },
      address: address && { url: this.urlOf(address.id), endsAt: address.endsAt },
    });
    return { pdf, name: fileNameOf([found.content.title, found.ownerName], 'pdf') };
  }

  /** A ZIP with a page that plays without a network; for its student, so all of it is in it. */
  async zip(id: string, language: StudentLanguage): Promise<Zip & { name: string }> {
    const found = await this.found(this.pool, id);
    const shown = await this.shownOf(found, true);
    const files: Packed[] = [];
    const places = new Map<string, string>();
    const add = async (kind: 'sound' | 'picture', recordingId: string, called: string) => {
      const from = await (
        kind === 'picture'
          ? this.recordings.served.showing(recordingId, null)
          : this.recordings.served.playing(recordingId)
      ).catch(() => null);
      const size =
        from &&
        (await stat(from.path).then(
          f => f.size,
          () => null,
        ));
      if (!from || size === null) return;
      const name = `${kind === 'picture' ? 'pictures' : 'sounds'}/${called}.${endingOf(from.type) ?? 'bin'}`;
      places.set(recordingId, name);
      files.push({ name, size, open: async () => createReadStream(from.path) });
    };
    for (const [i, piece] of shown.pieces.entries()) {
      const number = String(i + 1).padStart(2, '0');
      await add('sound', piece.takeId, number);
      if (piece.voiceId) await add('sound', piece.voiceId, `${number}-spoken`);
      if (piece.pictureId) await add('picture', piece.pictureId, number);
    }
    const placeOf = (recordingId: string) => places.get(recordingId) ?? '';
    const html = portfolioPage(
      {
        ...shown,
        pieces: shown.pieces.map(p => ({
          ...p,
          pictureId: p.pictureId && places.has(p.pictureId) ? p.pictureId : null,
          voiceId: p.voiceId && places.has(p.voiceId) ? p.voiceId : null,
        })),
      },
      { language, sound: placeOf, picture: placeOf, endsAt: null },
    );
    return {
      ...packed([{ name: 'index.html', text: html }], files),
      name: fileNameOf([found.content.title, found.ownerName], 'zip'),
    };
  }

  /** One that is not thrown away. @param lock holds it until the transaction ends @throws Trouble notFound */
  private async found(db: Queryable, id: string, lock = false): Promise<store.PortfolioRow> {
    const found = await store.findPortfolio(db, id, lock);
    if (!found || found.removedAt) throw notFound();
    return found;
  }

  /** @param isForOwner with what only its student hears yet */
  private async shownOf(found: store.PortfolioRow, isForOwner: boolean): Promise<ShownPortfolio> {
    const takes = new Map((await this.takes(found.ownerId, found.content)).map(t => [t.takeId, t]));
    const files = new Map((await store.filesOf(this.pool, found.id)).map(f => [f.id, f]));
    // A picture beside a take is seen as soon as it was looked at, as what was brought is.
    const own = new Set(
      (await store.takesOfOwn(this.pool, found.ownerId, [...takes.keys()])).flatMap(t => t.pictureId ?? []),
    );
    const ready = (id: string | null) => (id && files.get(id)?.state === 'stored' ? id : null);
    return {
      title: found.content.title,
      words: found.content.words,
      ownerName: found.ownerName,
      pieces: found.content.pieces.flatMap((piece): ShownPiece[] => {
        const take = takes.get(piece.takeId);
        if (!take || (!isForOwner && take.state !== 'heard')) return [];
        const voiceId = ready(piece.voiceId);
        return [
          {
            id: piece.id,
            title: piece.title.trim() || take.assessment,
            at: take.at,
            words: piece.words,
            takeId: take.takeId,
            medium: take.medium,
            durationMs: take.durationMs,
            pictureId: piece.pictureId && own.has(piece.pictureId) ? piece.pictureId : ready(piece.pictureId),
            pictureWords: piece.pictureWords,
            voiceId,
            voiceMs: voiceId ? (files.get(voiceId)?.durationMs ?? null) : null,
          },
        ];
      }),
    };
  }

  private async takes(ownerId: string, { pieces }: PortfolioContent): Promise<PortfolioTake[]> {
    const ids = [...new Set(pieces.map(p => p.takeId))];
    return (await store.takesOfOwn(this.pool, ownerId, ids)).map(takeView);
  }

  private async suggestions(studentId: string): Promise<PortfolioSuggestion[]> {
    const open = await store.openSuggestions(this.pool, studentId);
    const takes = await store.takesOfOwn(this.pool, studentId, [...new Set(open.map(s => s.takeId))]);
    return open.flatMap(({ id, takeId, teacherName, words, at }) => {
      const take = takes.find(t => t.takeId === takeId);
      // Its feedback was taken back since, or it was set aside.
      if (!take?.isHeard) return [];
      return [{ id, teacherName, words, at: at.toISOString(), take: takeView(take) }];
    });
  }

  /**
   * Only one's own stands in one's portfolio: own takes, and files that were brought for it.
   * @param before what stood there: what is gone since may go on standing
   * @throws Trouble notFound
   */
  private async check(
    db: Queryable,
    ownerId: string,
    id: string,
    content: PortfolioContent,
    before: PortfolioContent | null,
  ): Promise<void> {
    const takes = await store.takesOfOwn(db, ownerId, [...new Set(content.pieces.map(p => p.takeId))]);
    const files = await store.filesOf(db, id);
    const known = new Set(before?.pieces.flatMap(p => [p.takeId, p.pictureId, p.voiceId]) ?? []);
    const isFile = (wanted: 'picture' | 'sound', file: string) =>
      files.some(f => f.id === file && f.wanted === wanted) ||
      (wanted === 'picture' && takes.some(t => t.pictureId === file));
    for (const piece of content.pieces) {
      const isOwn =
        (known.has(piece.takeId) || takes.some(t => t.takeId === piece.takeId)) &&
        (!piece.pictureId || known.has(piece.pictureId) || isFile('picture', piece.pictureId)) &&
        (!piece.voiceId || known.has(piece.voiceId) || isFile('sound', piece.voiceId));
      if (!isOwn) throw notFound();
    }
  }

  /** A suggestion is answered by what stands in a portfolio. */
  private async settle(db: Queryable, studentId: string, { pieces }: PortfolioContent): Promise<void> {
    await store.answerSuggestions(db, studentId, [...new Set(pieces.map(p => p.takeId))], 'taken');
  }

  private addressView(a: store.AddressRow): PortfolioAddress {
    return {
      id: a.id,
      name: a.name,
      url: this.urlOf(a.id),
      endsAt: a.endsAt.toISOString(),
      state: stateOf(a),
    };
  }

  private urlOf(addressId: string): string {
    return `${this.baseUrl}/portfolio/${addressId}`;
  }

  /** Sweep: what was thrown away long ago goes, and what was brought and stands nowhere. */
  private async forgetOld(): Promise<void> {
    for (const id of await store.removedLongAgo(this.pool, KEPT_DAYS))
      await transaction(this.pool, async db => {
        const files = await store.filesOf(db, id);
        await store.forget(db, id);
        for (const file of files) await this.recordings.letGoOf(db, file.id);
      });
    const { left, next } = await store.leftOver(this.pool, KEPT_DAYS, this.sweptTo);
    this.sweptTo = next;
    for (const id of left) await transaction(this.pool, db => this.recordings.letGoOf(db, id));
  }
}

function stateOf({ endsAt, revokedAt }: store.AddressRow): PortfolioAddress['state'] {
  if (revokedAt) return 'revoked';
  return endsAt.getTime() <= Date.now() ? 'over' : 'lives';
}

function takeView(t: store.TakeOfOwn): PortfolioTake {
  const { title, items } = inOrder(completed(JSON.parse(t.content) as AssessmentContent), t.sittingId);
  return {
    takeId: t.takeId,
    assessment: title,
    className: t.className,
    itemNumber: items.findIndex(i => i.id === t.itemId) + 1,
    at: t.at.toISOString(),
    durationMs: t.durationMs,
    medium: t.medium,
    state: t.isHeard ? 'heard' : 'feedbackNotYet',
  };
}
