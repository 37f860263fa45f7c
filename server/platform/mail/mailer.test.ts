import { addressOf } from './mailer';

describe('where somebody is written to', () => {
  it.each([
    [{ email: 'ana@b.example', signInName: 'ana' }, 'ana@b.example'],
    [{ email: null, signInName: 'ana@b.example' }, 'ana@b.example'],
    [{ email: null, signInName: 'ana' }, null],
    [{ email: null, signInName: 'ana@harbour' }, null],
    [{ email: null, signInName: 'guest 1234' }, null],
  ])('%j', (person, address) => expect(addressOf(person)).toBe(address));
});
