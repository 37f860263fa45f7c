import fc from 'fast-check';
import { GrowingSound } from './growing';

const text = (blob: Blob) => blob.text();

describe('bytes that still come', () => {
  it('lets a reader wait for the next piece and says which is the last', async () => {
    const sound = new GrowingSound();
    sound.push(new Blob(['abc']));
    expect(await text((await sound.read(0, 99)).value)).toBe('abc');
    const next = sound.read(3, 99);
    sound.push(new Blob(['de']));
    const got = await next;
    expect([await text(got.value), got.done]).toEqual(['de', false]);
    const last = sound.read(5, 99);
    sound.end();
    expect(await last).toMatchObject({ done: true, value: expect.objectContaining({ size: 0 }) });
  });

  it('gives back every byte once, however reading and writing are interleaved', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.string({ minLength: 1 }), { maxLength: 12 }),
        fc.integer({ min: 1, max: 7 }),
        async (pieces, step) => {
          const sound = new GrowingSound();
          const read = (async () => {
            let out = new Blob([]);
            for (;;) {
              const { value, done } = await sound.read(out.size, out.size + step);
              out = new Blob([out, value]);
              if (done) return out.text();
            }
          })();
          for (const piece of pieces) {
            sound.push(new Blob([piece]));
            await Promise.resolve();
          }
          sound.end();
          expect(await read).toBe(pieces.join(''));
        },
      ),
    );
  });
});
