import type { Lane } from '@ecoute/contract/marking';

const PLACES: Record<Intl.LDMLPluralRule, string> = {
  one: 'st',
  two: 'nd',
  few: 'rd',
  other: 'th',
  zero: 'th',
  many: 'th',
};
const rules = new Intl.PluralRules('en', { type: 'ordinal' });

/** “2nd”, “3rd”. */
export function nth(n: number): string {
  return `${n}${PLACES[rules.select(n)]}`;
}

/** Which of a student's sittings a lane belongs to, and why there is more than one; null for the only one. */
export function sittingWords({
  sittingNumber,
  isAllowed,
  againFor,
}: Pick<Lane, 'sittingNumber' | 'isAllowed' | 'againFor'>): string | null {
  if (sittingNumber === 1) return null;
  const which = `This is the ${nth(sittingNumber)} sitting`;
  if (againFor !== null) return `${which}, recorded again: “${againFor}”`;
  return isAllowed ? `${which}, which a teacher allowed.` : `${which}.`;
}
