import { blankContent, blankItem } from '@ecoute/contract/blank';
import { placeWords, withVoiceAt } from './voices';

const voice = { recordingId: 'r', durationMs: 900, isVideo: true };
const content = blankContent('homework', { items: [blankItem('i1'), blankItem('i2')] });
const at = (place: string) => withVoiceAt(content, 'a', place, voice);

describe('a voice that has arrived', () => {
  it('goes to its own place', () => {
    expect(at('i2')!.items[1]).toMatchObject({
      promptRecordingId: 'r',
      promptDurationMs: 900,
      promptIsVideo: true,
    });
    expect(at('i1 hint')!.items[0]!.hintVoice).toEqual(voice);
    expect(at('i1 model')!.items[0]!.modelVoice).toEqual(voice);
    expect(at('i1 aloud')!.items[0]!.readAloudVoice).toEqual(voice);
    expect(at('i1 backing')!.items[0]!.music!.backing).toEqual(voice);
    expect(at('i2 turn')!.items[1]!.turns).toMatchObject([{ recordingId: 'r', fromMs: 0, toMs: 900 }]);
    expect(at('a')!.directionsVoice).toEqual(voice);
    expect(at('a says nothing')!.spokenWords).toEqual([{ word: 'nothing', voice }]);
  });

  it('is put nowhere where its item is gone, or where somebody has to cut it first', () => {
    for (const place of ['gone', 'gone hint', 'i1 track', 'a pages', 'a says sesame'])
      expect(at(place)).toBeNull();
  });

  it('says where it is going', () => {
    expect([placeWords(content, 'i2 hint'), placeWords(content, 'a')]).toEqual(['item 2', 'the directions']);
  });
});
