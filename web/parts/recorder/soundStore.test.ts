import 'fake-indexeddb/auto';
import {
  changeSound,
  dropSound,
  keepPiece,
  keepSound,
  piecesOf,
  soundsOf,
  type KeptSound,
} from './soundStore';

const sound = (id: string, personId = 'amara'): KeptSound => ({
  id,
  personId,
  mediaType: 'audio/webm',
  announce: { url: `/api/sittings/s/takes`, body: { recordingId: id } },
  place: { sittingId: 's', itemId: 'i' },
  beganAt: '2026-11-24T10:00:00.000Z',
  ended: false,
  refusal: null,
});
const bytes = (...values: number[]) => new Uint8Array(values).buffer;
const read = async (id: string) => (await piecesOf(id)).map(p => [...new Uint8Array(p)]);

describe('what a device keeps', () => {
  it('gives the pieces back in the order they were spoken, past the tenth as well', async () => {
    await keepSound(sound('a'));
    for (const index of [11, 2, 0, 10, 1, 9, 8, 3, 7, 4, 6, 5]) await keepPiece('a', index, bytes(index));
    expect(await read('a')).toEqual(Array.from({ length: 12 }, (_, n) => [n]));
  });

  it('gives no piece after one that is missing: a hole in the middle would spoil the rest', async () => {
    await keepSound(sound('h'));
    for (const index of [0, 1, 3]) await keepPiece('h', index, bytes(index));
    expect(await read('h')).toEqual([[0], [1]]);
  });

  it('keeps a piece once, however often it is written', async () => {
    await keepSound(sound('b'));
    await keepPiece('b', 0, bytes(1, 2));
    await keepPiece('b', 0, bytes(1, 2));
    expect(await read('b')).toEqual([[1, 2]]);
  });

  it('does not mix two recordings, nor two people of one device', async () => {
    await keepSound(sound('c', 'bram'));
    await keepSound(sound('c2', 'bram'));
    await keepSound(sound('d', 'chiyo'));
    await keepPiece('c', 0, bytes(3));
    await keepPiece('c2', 0, bytes(4));
    expect((await soundsOf('bram')).map(s => s.id)).toEqual(['c', 'c2']);
    expect((await soundsOf('chiyo')).map(s => s.id)).toEqual(['d']);
    await dropSound('c');
    expect(await read('c')).toEqual([]);
    expect(await read('c2')).toEqual([[4]]);
    expect((await soundsOf('bram')).map(s => s.id)).toEqual(['c2']);
  });

  it('remembers that a recording ended, and why it was refused', async () => {
    await keepSound(sound('e', 'emrys'));
    await changeSound('e', { ended: true });
    await changeSound('e', { refusal: 'All takes of this item are used.' });
    expect(await soundsOf('emrys')).toEqual([
      { ...sound('e', 'emrys'), ended: true, refusal: 'All takes of this item are used.' },
    ]);
    // What was dropped in the meantime does not come back.
    await changeSound('gone', { ended: true });
    expect((await soundsOf('amara')).map(s => s.id)).not.toContain('gone');
  });
});
