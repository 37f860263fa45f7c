import fc from 'fast-check';
import { fileNameOf } from './fileNames';

describe('names of files', () => {
  it('say whose and what, in any script', () => {
    expect(fileNameOf(['Amara Okonjo', 'item 1', 'take 2'], 'm4a')).toBe(
      'Amara Okonjo - item 1 - take 2.m4a',
    );
    expect(fileNameOf(['ليلى حداد', 'item 1'], 'm4a', 'ليلى حداد')).toBe('ليلى حداد/ليلى حداد - item 1.m4a');
  });

  it('lead out of no folder, hide nothing, and are never empty', () => {
    expect(fileNameOf(['../../etc/passwd'], 'm4a', '..')).toBe('student/etc passwd.m4a');
    expect(fileNameOf(['..', ' '], 'm4a')).toBe('recording.m4a');
    // Names that belong to devices elsewhere; those that only begin so stay.
    expect(fileNameOf(['Con', 'item 1'], 'm4a', 'Con')).toBe('Con_/Con_ - item 1.m4a');
    expect(fileNameOf(['nul.x'], 'm4a', 'Conrad')).toBe('Conrad/nul_.x.m4a');
    expect(fileNameOf(['a\u202egpj.exe: "x"|'], 'm4a')).toBe('a gpj.exe x.m4a');
  });

  it('hold nothing that a system refuses, whatever somebody is called', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), name => {
        const made = fileNameOf([name], 'm4a', name);
        expect(made.split('/')).toHaveLength(2);
        expect(made).not.toMatch(/[\u0000-\u001f<>:"\\|?*]/); // eslint-disable-line no-control-regex
        expect(made.split('/').every(p => p !== '' && p !== '..' && !p.startsWith('.'))).toBe(true);
      }),
    );
  });
});
