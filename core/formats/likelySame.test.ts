import fc from 'fast-check';
import { likelySame } from './likelySame';

describe('names that are probably one person’s', () => {
  it.each([
    ['João Pereira', 'joao pereira'],
    ['Pereira, João', 'João Pereira'],
    ['Amara', 'Amara Okonjo-Reyes'],
    ['Amara O.', 'Amara Okonjo-Reyes'],
    ['Dilnoza Yusupova', 'Dilnosa Yusupova'],
    ['花村 さくら', 'さくら 花村'],
  ])('%s and %s', (a, b) => expect(likelySame(a, b)).toBe(true));

  it.each([
    ['Ana', 'Eva'],
    ['Ana', 'Anna'],
    ['Bo', 'Jo'],
    ['Rui Pires', 'Rui Lobo'],
    ['A.', 'Amara Okonjo-Reyes'],
    ['', 'Amara'],
    ['Kim Lee', 'Kim Lopez'],
  ])('not %s and %s', (a, b) => expect(likelySame(a, b)).toBe(false));

  it('whichever of them comes first', () => {
    const name = fc.array(fc.constantFrom('ana', 'bo', 'li', 'o.', 'reyes', 'pires'), {
      minLength: 1,
      maxLength: 3,
    });
    fc.assert(
      fc.property(name, name, (a, b) => {
        expect(likelySame(a.join(' '), b.join(' '))).toBe(likelySame(b.join(' '), a.join(' ')));
      }),
    );
  });
});
