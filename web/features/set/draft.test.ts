import type { AssessmentContent } from '@ecoute/contract/assessments';
import { check } from '@ecoute/contract/validation';
import { AssessmentContent as Shape } from '@ecoute/contract/assessments';
import { duplicated, forgetLocally, keepLocally, keptLocally, newItem, withItem } from './draft';

const content = (): AssessmentContent => ({ title: 'T', directions: '', items: [newItem(), newItem()] });

describe('a draft', () => {
  it('begins with items that stand as they are', () => {
    expect(check(Shape, content()).fields).toBeNull();
  });

  it('changes one item and leaves the others alone', () => {
    const before = content();
    const [first, second] = before.items;
    const after = withItem(before, first!.id, { points: 9 });
    expect(after.items[0]).toEqual({ ...first, points: 9 });
    expect(after.items[1]).toBe(second);
    expect(before.items[0]!.points).toBe(5);
  });

  it('puts a copy right after its original, with an identity of its own', () => {
    const before = content();
    const after = duplicated(before, before.items[0]!.id);
    expect(after.items).toHaveLength(3);
    expect(after.items[1]).toEqual({ ...before.items[0], id: after.items[1]!.id });
    expect(new Set(after.items.map(i => i.id)).size).toBe(3);
  });

  describe('on this device', () => {
    const kept = new Map<string, string>();
    let full = false;
    beforeEach(() => {
      kept.clear();
      full = false;
      const storage = {
        getItem: (k: string) => kept.get(k) ?? null,
        setItem: (k: string, v: string) => {
          if (full) throw new Error('QuotaExceededError');
          kept.set(k, v);
        },
        removeItem: (k: string) => void kept.delete(k),
      };
      Object.defineProperty(globalThis, 'localStorage', { value: storage, configurable: true });
    });

    it('is kept until it is forgotten, each by its own assessment', () => {
      const draft = { revision: 3, content: content() };
      keepLocally('a', draft);
      expect(keptLocally('a')).toEqual(draft);
      expect(keptLocally('b')).toBeNull();
      forgetLocally('a');
      expect(keptLocally('a')).toBeNull();
    });

    it('survives a full device and what is not a draft', () => {
      full = true;
      expect(() => keepLocally('a', { revision: 1, content: content() })).not.toThrow();
      kept.set('ecoute-draft-a', '{half');
      expect(keptLocally('a')).toBeNull();
    });
  });
});
