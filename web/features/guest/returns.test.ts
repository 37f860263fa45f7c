import { keepReturn, keptReturn, returnAddress } from './returns';

/** A device’s memory, as much of it as is used. */
function device(over: Partial<Storage> = {}): void {
  const kept = new Map<string, string>();
  Object.assign(globalThis, {
    localStorage: {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => void kept.set(key, value),
      ...over,
    },
    window: { location: { origin: 'https://ecoute.example' } },
  });
}

describe('a guest’s way back', () => {
  it('is kept for each link, however its letters were typed', () => {
    device();
    expect([keptReturn('abcd-2345'), returnAddress()]).toEqual([null, null]);
    keepReturn('ABCD-2345', 'token-1');
    keepReturn('zzzz-2345', 'token-2');
    expect([keptReturn('abcd-2345'), keptReturn('Zzzz-2345'), keptReturn('other')]).toEqual([
      'token-1',
      'token-2',
      null,
    ]);
    expect(returnAddress()).toBe('https://ecoute.example/back/token-2');
  });

  it('is no trouble on a device that keeps nothing, or kept nonsense', () => {
    device({
      setItem: () => {
        throw new Error('full');
      },
      getItem: () => '{broken',
    });
    expect(() => keepReturn('abcd', 'token')).not.toThrow();
    expect([keptReturn('abcd'), returnAddress()]).toEqual([null, null]);
  });
});
