import { randomUUID } from 'node:crypto';
import type { Me } from '@ecoute/contract/people';
import type { HolidayView, NewHoliday } from '@ecoute/contract/releases';
import { administers } from '../../platform/access/store';
import type { Pool } from '../../platform/database';
import { invalid, notFound, Trouble } from '../../platform/trouble';
import * as store from './store';

/** Named days of the whole school: those without lessons, and its terms. */
export class Holidays {
  constructor(
    private readonly pool: Pool,
    private readonly kind: store.DaysKind = 'holiday',
  ) {}

  list(): Promise<HolidayView[]> {
    return store.holidaysBetween(this.pool, '2000-01-01', '2200-01-01', this.kind);
  }

  /** @throws Trouble invalid when the days are none, or end before they begin */
  async add(teacher: Me, wanted: NewHoliday): Promise<HolidayView[]> {
    if (wanted.lastOn < wanted.firstOn)
      throw invalid('lastOn', 'These days would end before they begin. Choose a later last day.');
    await store.insertHoliday(this.pool, {
      id: randomUUID(),
      name: wanted.name.trim(),
      firstOn: wanted.firstOn,
      lastOn: wanted.lastOn,
      madeBy: teacher.id,
      kind: this.kind,
    });
    return this.list();
  }

  /** @throws Trouble notAllowed for days that a colleague named, unless one looks after this Ecoute */
  async remove(by: Me, id: string): Promise<HolidayView[]> {
    const madeBy = await store.holidayMaker(this.pool, id, this.kind);
    if (madeBy === null) throw notFound();
    if (madeBy !== by.id && !(await administers(this.pool, by.id)))
      throw new Trouble(
        'notAllowed',
        'A colleague named these days. Ask them, or an administrator, to take them away.',
      );
    await store.removeHoliday(this.pool, id);
    return this.list();
  }
}
