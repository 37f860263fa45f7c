import { randomUUID } from 'node:crypto';
import { hasTakes } from '@ecoute/core/timing/strip';
import type { HandoverView, PhoneView } from '@ecoute/contract/handovers';
import type { NewTake } from '@ecoute/contract/recordings';
import type { NewEvents, TakeView } from '@ecoute/contract/sittings';
import { insertChange } from '../../platform/changes/store';
import { newCode } from '../../platform/codes';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { Tries } from '../../platform/tries';
import { notFound, Trouble } from '../../platform/trouble';
import type { Sittings } from '../sittings/service';
import { noteInAccount } from '../sittings/situation';
import * as store from './store';

/** A code waits for its phone so long … */
const CODE_MS = 15 * 60_000;
/** … and the phone has so long for the sitting. */
const PHONE_MS = 3 * 3_600_000;

/** A sitting recorded with a phone, item by item, without signing in there. */
export class Handovers {
  constructor(
    private readonly pool: Pool,
    private readonly sittings: Sittings,
    private readonly tries: Tries,
    private readonly baseUrl: string,
  ) {}

  /** A code for a phone that begins with an item, for whoever holds the first screen. @throws Trouble handedIn, notFound */
  async offer(sittingId: string, itemId: string): Promise<HandoverView> {
    const sitting = await this.sittings.view(sittingId);
    const item = sitting.content.items.find(i => i.id === itemId);
    if (!item || !hasTakes(item.answerBy)) throw notFound();
    if (sitting.receipt)
      throw new Trouble(
        'handedIn',
        'This is handed in already. Ask your teacher to let you record it again.',
      );
    const code = newCode();
    const expiresAt = new Date(Date.now() + CODE_MS);
    await store.insertHandover(this.pool, { id: randomUUID(), code, sittingId, itemId, expiresAt });
    return { code, url: `${this.baseUrl}/p/${code}`, expiresAt: expiresAt.toISOString() };
  }

  /**
   * A phone opens a code: from then on it is this phone's, and nobody else's.
   * @returns the handover's id, for the phone's session
   * @throws Trouble deadLink for a code that leads nowhere, in the same words whatever is wrong with it
   */
  open(code: string, address: string): Promise<string> {
    return this.tries.counted(
      { phones: address },
      'Too many codes that lead nowhere. Wait ten minutes, then ask for a new one on the first screen.',
      error => error instanceof Trouble && error.code === 'deadLink',
      () => this.openCode(code),
    );
  }

  private openCode(code: string): Promise<string> {
    return transaction(this.pool, async db => {
      const found = await store.findByCode(db, code);
      if (!found)
        throw new Trouble(
          'deadLink',
          'This code does not lead anywhere (any more). Ask for a new one on the first screen.',
        );
      await store.openHandover(db, found.id, new Date(Date.now() + PHONE_MS));
      await noteInAccount(db, found.sittingId, 'phoneOpened', found.itemId);
      await this.tell(db, found);
      return found.id;
    });
  }

  /** What the phone shows: the sitting with this one item, and nothing else of it. */
  async view(id: string): Promise<PhoneView> {
    const { sittingId, itemId } = await this.found(id);
    const sitting = await this.sittings.view(sittingId);
    const numbered = sitting.content.items.flatMap((item, i) =>
      hasTakes(item.answerBy) ? [{ id: item.id, number: i + 1 }] : [],
    );
    const ofItem = <T extends { itemId: string | null }>(of: readonly T[]) =>
      of.filter(x => x.itemId === itemId);
    return {
      over: sitting.receipt !== null,
      itemIds: numbered.map(n => n.id),
      numbers: numbered.map(n => n.number),
      sitting: {
        ...sitting,
        content: {
          ...sitting.content,
          items: sitting.content.items.filter(i => i.id === itemId),
          directions: '',
          directionsRich: null,
          directionsVoice: null,
          otherDirections: [],
          stimuli: [],
          closingWords: '',
          selfAssessment: 'none',
        },
        hidden: sitting.hidden.filter(h => h.itemId === itemId),
        events: ofItem(sitting.events),
        takes: ofItem(sitting.takes),
        written: [],
        judgements: {},
        receipt: null,
      },
    };
  }

  /** The phone goes to another item, and the first screen follows. @throws Trouble notFound for one it cannot answer */
  async move(id: string, itemId: string): Promise<PhoneView> {
    await this.moveTo(await this.found(id), itemId);
    return this.view(id);
  }

  /** The first screen brings its phones to an item, or sends them away. @throws Trouble notFound */
  async moveAll(sittingId: string, itemId: string): Promise<void> {
    for (const phone of await store.openOf(this.pool, sittingId)) await this.moveTo(phone, itemId);
  }
  async closeAll(sittingId: string): Promise<void> {
    for (const phone of await store.openOf(this.pool, sittingId)) await this.close(phone.id);
  }

  private async moveTo(phone: store.HandoverRow, itemId: string): Promise<void> {
    if (phone.itemId === itemId) return;
    const { content } = await this.sittings.view(phone.sittingId);
    if (!content.items.some(i => i.id === itemId && hasTakes(i.answerBy))) throw notFound();
    await transaction(this.pool, async db => {
      await store.moveHandover(db, phone.id, itemId);
      await noteInAccount(db, phone.sittingId, 'phoneOpened', itemId);
      await this.tell(db, phone);
    });
  }

  /** Shows the item, where it is shown with its time only. */
  async show(id: string): Promise<PhoneView> {
    const { sittingId, itemId } = await this.found(id);
    await this.sittings.show(sittingId, itemId);
    return this.view(id);
  }

  async announceTake(id: string, wanted: NewTake): Promise<TakeView> {
    const handover = await this.found(id);
    const take = await this.sittings.announceTake(
      { id: handover.studentId },
      handover.sittingId,
      wanted,
      'phone',
    );
    await this.tell(this.pool, handover);
    return take;
  }

  async keepEvents(id: string, { events }: NewEvents): Promise<void> {
    const { sittingId } = await this.found(id);
    // Of items alone: the account of the whole is the first screen's.
    await this.sittings.keepEvents(sittingId, { events: events.filter(e => e.itemId !== null) });
  }

  /** The phone has done its part. */
  async close(id: string): Promise<void> {
    const handover = await store.findOpen(this.pool, id);
    if (!handover) return;
    await transaction(this.pool, async db => {
      await store.closeHandover(db, id);
      await noteInAccount(db, handover.sittingId, 'phoneLeft');
      await this.tell(db, handover);
    });
  }

  private async found(id: string): Promise<store.HandoverRow> {
    const found = await store.findOpen(this.pool, id);
    if (!found)
      throw new Trouble('handoverOver', 'This phone’s part is over. Ask for a new code on the first screen.');
    return found;
  }

  /** The first screen shows what the phone does, automatically. */
  private async tell(db: Queryable, { sittingId, studentId }: store.HandoverRow): Promise<void> {
    await insertChange(db, { kind: 'sitting', subjectId: sittingId, classId: null, personId: studentId });
  }
}
