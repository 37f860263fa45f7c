import { errorForLog } from './log';

describe('the log', () => {
  it('says of an error of the database its kind and place, and no value of any person', () => {
    const sql = "INSERT INTO people (display_name) VALUES ('Lena Maurits')";
    const error = Object.assign(new Error("Duplicate entry 'lena@b.example' for key 'people_name'"), {
      code: 'ER_DUP_ENTRY',
      errno: 1062,
      sqlState: '23000',
      sql,
    });
    const kept = JSON.stringify(errorForLog(error));
    expect(kept).toContain('ER_DUP_ENTRY');
    expect(kept).not.toMatch(/Lena|lena|INSERT/);
  });

  it('keeps the words of other errors, and never all of a long one', () => {
    expect(errorForLog(new RangeError('out of range'))).toMatchObject({
      type: 'RangeError',
      message: 'out of range',
    });
    expect(String(errorForLog('x'.repeat(9_000)).message)).toHaveLength(300);
  });
});
