import { randomUUID } from 'node:crypto';
import { PDFDocument } from 'pdf-lib';
import yauzl from 'yauzl';
import type {
  OwnPortfolios,
  PortfolioContent,
  PortfolioPiece,
  PortfolioView,
  ShownPortfolio,
  StudentPortfolios,
} from '@ecoute/contract/portfolios';
import { handInOne, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { made as madeFile } from '../../testing/files';
import { execute } from '../../platform/database';
import { leftOver } from './store';

/** Files of a ZIP by their names. */
async function unpacked(bytes: Uint8Array): Promise<Map<string, Buffer>> {
  const files = new Map<string, Buffer>();
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.fromBuffer(Buffer.from(bytes), (error, opened) => (error ? reject(error) : resolve(opened))),
  );
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: yauzl.Entry) =>
      zip.openReadStream(entry, (error, stream) => {
        if (error) return reject(error);
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('end', () => files.set(entry.fileName, Buffer.concat(parts)));
      }),
    );
    zip.on('end', () => setTimeout(resolve, 50));
    zip.on('error', reject);
  });
  return files;
}

describe('portfolios', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let classmate: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    classmate = await t.person('student', [classId]);
  });
  afterAll(() => t.close());

  const piece = (takeId: string, over: Partial<PortfolioPiece> = {}): PortfolioPiece => ({
    id: randomUUID(),
    takeId,
    title: '',
    words: '',
    pictureId: null,
    pictureWords: '',
    voiceId: null,
    ...over,
  });
  const content = (pieces: PortfolioPiece[], title = 'My <year> & more'): PortfolioContent => ({
    title,
    words: 'Listen “here”.',
    pieces,
  });
  async function recorded(who: Visitor, { gives = true, title = 'Harbour talk' } = {}) {
    const release = await t.release(teacher, classId, {}, 3_600_000, { title });
    const sat = await handInOne(who, release);
    const give = async () => {
      const mark = { revision: 0, points: 3, comment: 'For your ears alone.', finished: true, reason: '' };
      await teacher.ask('PUT', `/api/sittings/${sat.id}/marks/${release.itemId}`, mark);
      await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sat.id] });
    };
    if (gives) await give();
    return { ...sat, releaseId: release.id, give };
  }
  async function made(pieces: PortfolioPiece[], who = student): Promise<PortfolioView> {
    const { status, body } = await who.ask<PortfolioView>('POST', '/api/portfolios', content(pieces));
    expect(status).toBe(200);
    return body;
  }
  const save = (who: Visitor, { id, revision }: PortfolioView, pieces: PortfolioPiece[]) =>
    who.ask<PortfolioView & { current: { revision: number } }>('PUT', `/api/portfolios/${id}`, {
      revision,
      content: content(pieces),
    });
  async function brought(portfolioId: string, wanted: 'picture' | 'sound', bytes: Uint8Array) {
    const recordingId = randomUUID();
    const mediaType = wanted === 'picture' ? 'image/png' : 'audio/wav';
    const told = { recordingId, mediaType, wanted };
    expect((await student.ask('POST', `/api/portfolios/${portfolioId}/files`, told)).status).toBe(204);
    await send(student, recordingId, bytes);
    expect((await settled(student, recordingId)).state).toBe('stored');
    return recordingId;
  }
  const picture = () => madeFile('p.png', '-i', 'testsrc=size=60x40:d=1', '-frames:v', '1');
  async function addressOf({ id }: PortfolioView, name = 'Grandmother', days = 30) {
    const { body } = await student.ask<PortfolioView>('POST', `/api/portfolios/${id}/addresses`, {
      name,
      days,
      language: 'en',
    });
    return body.addresses[0]!;
  }
  /** As a browser that is signed in nowhere. */
  const open = (url: string, headers: Record<string, string> = {}) =>
    fetch(url.replace('https://ecoute.example', t.base), { headers });

  it('shows at its address what its student chose, in order, and nothing of what was said of it', async () => {
    const [first, second] = [await recorded(student), await recorded(student, { title: 'Market' })];
    const begun = await made([]);
    const [pictureId, voiceId] = [
      await brought(begun.id, 'picture', picture()),
      await brought(begun.id, 'sound', tone(3)),
    ];
    const pieces = [
      piece(second.takeId, {
        title: 'Best <b>one</b>',
        words: 'I was calm.',
        pictureId,
        pictureWords: 'Bars',
        voiceId,
      }),
      piece(first.takeId),
    ];
    expect((await save(student, begun, pieces)).status).toBe(200);
    const { url } = await addressOf(begun);
    const page = await open(url);
    const html = await page.text();
    expect([page.status, page.headers.get('cache-control')]).toEqual([200, 'no-store']);
    expect(page.headers.get('x-robots-tag')).toContain('noindex');
    expect(html.indexOf('Best &lt;b&gt;one&lt;/b&gt;')).toBeLessThan(html.indexOf('Harbour talk'));
    expect(html).toContain('My &lt;year&gt; &amp; more');
    expect(html).toContain('alt="Bars"');
    expect(html).not.toMatch(/For your ears alone|points|Say your name|<script/i);
    // Each of its sounds and pictures is sent, in pieces where that is asked for.
    const files = [...html.matchAll(/src="([^"]+)"/g)].map(m => t.base + m[1]!);
    expect(files).toHaveLength(4);
    for (const file of files) expect((await open(file)).status).toBe(200);
    expect((await open(files[0]!, { Range: 'bytes=0-9' })).status).toBe(206);
  });

  it('lets nobody hear what has no feedback, was not chosen, or is somebody else’s', async () => {
    const [mine, other, theirs, waiting] = [
      await recorded(student),
      await recorded(student),
      await recorded(classmate),
      await recorded(student, { gives: false }),
    ];
    const portfolio = await made([piece(mine.takeId), piece(waiting.takeId)]);
    expect(portfolio.takes.map(x => x.state).sort()).toEqual(['feedbackNotYet', 'heard']);
    const { url } = await addressOf(portfolio);
    const sound = (takeId: string) => open(`${url}/sounds/${takeId}`).then(r => r.status);
    expect(await sound(mine.takeId)).toBe(200);
    expect(await sound(waiting.takeId)).toBe(404);
    expect(await sound(other.takeId)).toBe(404);
    expect(await sound(theirs.takeId)).toBe(404);
    await waiting.give();
    expect(await sound(waiting.takeId)).toBe(200);
    // Its student has not opened it yet, so its teacher takes it back: it is silent at once.
    await teacher.ask('POST', `/api/releases/${waiting.releaseId}/feedback/calling-off`, {
      sittingIds: [waiting.id],
    });
    expect(await sound(waiting.takeId)).toBe(404);
    expect(await (await open(url)).text()).not.toContain(waiting.takeId);
    // A classmate's recording stands in no portfolio of another's, nor does a file of another portfolio.
    expect((await save(student, portfolio, [piece(theirs.takeId)])).status).toBe(404);
    expect((await classmate.ask('POST', '/api/portfolios', content([piece(mine.takeId)]))).status).toBe(404);
    const elsewhere = await made([piece(mine.takeId)]);
    const voiceId = await brought(elsewhere.id, 'sound', tone(1));
    expect((await save(student, portfolio, [piece(mine.takeId, { voiceId })])).status).toBe(404);
    // A take is no picture, and a picture no reflection.
    expect((await save(student, elsewhere, [piece(mine.takeId, { pictureId: other.takeId })])).status).toBe(
      404,
    );
  });

  it('ends with its address: revoked, over, thrown away, a closed account', async () => {
    const { takeId } = await recorded(student);
    const portfolio = await made([piece(takeId)]);
    const [family, jury] = [await addressOf(portfolio, 'Family'), await addressOf(portfolio, 'Jury', 1)];
    const both = async () => [(await open(family.url)).status, (await open(jury.url)).status];
    expect(await both()).toEqual([200, 200]);
    await student.ask('DELETE', `/api/portfolios/${portfolio.id}/addresses/${family.id}`);
    expect(await both()).toEqual([404, 200]);
    expect((await open(`${family.url}/sounds/${takeId}`)).status).toBe(404);
    expect(await (await open(family.url, { 'Accept-Language': 'de' })).text()).toContain(
      'führt nirgends mehr hin',
    );
    await student.ask('DELETE', `/api/portfolios/${portfolio.id}`);
    expect(await both()).toEqual([404, 404]);
    // Nothing is added to what is thrown away, so that nothing comes back with it.
    const later = { name: 'Later', days: 3, language: 'en' };
    expect((await student.ask('POST', `/api/portfolios/${portfolio.id}/addresses`, later)).status).toBe(404);
    // Half an address, as a mail program may break it.
    const half = await open(family.url.slice(0, -20));
    expect([half.status, (await half.text()).includes('leads nowhere any more')]).toEqual([404, true]);
    const { body: without } = await student.ask<OwnPortfolios>('GET', '/api/portfolios');
    expect(without.portfolios.map(p => p.id)).not.toContain(portfolio.id);
    expect(without.removed.map(p => p.id)).toContain(portfolio.id);
    await student.ask('POST', `/api/portfolios/${portfolio.id}/restored`);
    // What was revoked stays so.
    expect(await both()).toEqual([404, 200]);
    const { pool } = t.ecoute;
    await execute(pool, 'UPDATE people SET closed_at = UTC_TIMESTAMP(3) WHERE id = :id', student);
    expect(await both()).toEqual([404, 404]);
    await execute(pool, 'UPDATE people SET closed_at = NULL WHERE id = :id', student);
    await execute(pool, 'UPDATE portfolio_addresses SET ends_at = UTC_TIMESTAMP(3) WHERE id = :id', jury);
    expect(await both()).toEqual([404, 404]);
    expect((await open(`${jury.url}/sounds/${takeId}`)).status).toBe(404);
    const paper = await student.ask(
      'GET',
      `/api/portfolios/${portfolio.id}/portfolio.pdf?address=${jury.id}`,
    );
    expect(paper.status).toBe(404);
  });

  it('is shown to a teacher who was chosen, as long as they teach its student', async () => {
    const { takeId } = await recorded(student);
    const colleague = await t.person('teacher', [classId]);
    const stranger = await t.person('teacher', [await t.class()]);
    const portfolio = await made([piece(takeId)]);
    const looks = async (who: Visitor) => [
      (await who.ask('GET', `/api/portfolios/${portfolio.id}/shown`)).status,
      (await who.ask('GET', `/api/portfolios/${portfolio.id}/sounds/${takeId}`)).status,
      (await who.ask('GET', `/api/portfolios/${portfolio.id}`)).status,
    ];
    expect(await looks(colleague)).toEqual([404, 404, 404]);
    const show = (...teacherIds: string[]) =>
      student.ask<PortfolioView>('PUT', `/api/portfolios/${portfolio.id}/readers`, { teacherIds });
    expect((await show(stranger.id)).status).toBe(404);
    expect((await show(colleague.id)).body.teachers.find(x => x.sees)!.id).toBe(colleague.id);
    expect(await looks(colleague)).toEqual([200, 200, 404]);
    expect(await looks(teacher)).toEqual([404, 404, 404]);
    const path = `/api/classes/${classId}/students/${student.id}/portfolios`;
    const listed = async (who: Visitor) =>
      (await who.ask<StudentPortfolios>('GET', path)).body.portfolios.map(p => p.id);
    expect(await listed(colleague)).toEqual([portfolio.id]);
    expect(await listed(teacher)).not.toContain(portfolio.id);
    const { body } = await colleague.ask<ShownPortfolio>('GET', `/api/portfolios/${portfolio.id}/shown`);
    expect(body.pieces.map(p => p.takeId)).toEqual([takeId]);
    // Out of the class, out of the portfolio.
    await execute(t.ecoute.pool, 'DELETE FROM class_members WHERE person_id = :id AND class_id = :classId', {
      id: colleague.id,
      classId,
    });
    expect(await looks(colleague)).toEqual([404, 404, 404]);
    await show();
    expect(
      (await student.ask<PortfolioView>('GET', `/api/portfolios/${portfolio.id}`)).body.addresses,
    ).toEqual([]);
  });

  it('keeps what two pages write apart, and refuses what does not fit', async () => {
    const { takeId } = await recorded(student);
    const portfolio = await made([piece(takeId)]);
    const first = await save(student, portfolio, []);
    expect(first.body.revision).toBe(portfolio.revision + 1);
    const second = await save(student, portfolio, [piece(takeId)]);
    expect([second.status, second.body.current.revision]).toEqual([409, first.body.revision]);
    const wrong = async (over: Partial<PortfolioContent>) =>
      (await student.ask('POST', '/api/portfolios', { ...content([]), ...over })).status;
    const same = piece(takeId);
    expect(await wrong({ title: '  ' })).toBe(422);
    expect(await wrong({ pieces: [same, same] })).toBe(422);
    expect(await wrong({ pieces: Array.from({ length: 61 }, () => piece(takeId)) })).toBe(422);
    expect(
      (
        await student.ask('POST', `/api/portfolios/${portfolio.id}/addresses`, {
          name: '',
          days: 3,
          language: 'en',
        })
      ).status,
    ).toBe(422);
    expect(
      (
        await student.ask('POST', `/api/portfolios/${portfolio.id}/addresses`, {
          name: 'x',
          days: 9999,
          language: 'en',
        })
      ).status,
    ).toBe(422);
    expect((await classmate.ask('GET', `/api/portfolios/${portfolio.id}`)).status).toBe(404);
    expect((await classmate.ask('DELETE', `/api/portfolios/${portfolio.id}`)).status).toBe(404);
  });

  it('is suggested by a teacher once feedback is given, and what becomes of it is seen', async () => {
    const waiting = await recorded(student, { gives: false });
    const suggest = (takeId = waiting.takeId) =>
      teacher.ask<{ code: string }>('POST', `/api/sittings/${waiting.id}/suggestions`, {
        takeId,
        words: 'Keep this.',
      });
    expect((await suggest()).body.code).toBe('feedbackNotGiven');
    await waiting.give();
    expect((await suggest(randomUUID())).status).toBe(404);
    expect((await suggest()).status).toBe(204);
    expect((await suggest()).status).toBe(204);
    const own = async () => (await student.ask<OwnPortfolios>('GET', '/api/portfolios')).body.suggestions;
    expect(await own()).toEqual([expect.objectContaining({ words: 'Keep this.' })]);
    const states = async () =>
      (
        await teacher.ask<StudentPortfolios>(
          'GET',
          `/api/classes/${classId}/students/${student.id}/portfolios`,
        )
      ).body.suggested.filter(s => s.takeId === waiting.takeId);
    expect((await states())[0]!.state).toBe('open');
    // Another student answers nothing for them.
    await classmate.ask('POST', `/api/takes/${waiting.takeId}/suggestion/declined`);
    expect((await states())[0]!.state).toBe('open');
    await student.ask('POST', `/api/takes/${waiting.takeId}/suggestion/declined`);
    expect([(await states())[0]!.state, await own()]).toEqual(['declined', []]);
    await suggest();
    await made([piece(waiting.takeId)]);
    expect([(await states())[0]!.state, await own()]).toEqual(['taken', []]);
    const again = await recorded(student);
    await teacher.ask('POST', `/api/sittings/${again.id}/suggestions`, { takeId: again.takeId, words: '' });
    await teacher.ask('DELETE', `/api/takes/${again.takeId}/suggestion`);
    expect(await own()).toEqual([]);
  });

  it('goes out as a ZIP that plays without a network, and on paper', async () => {
    const [sat, waiting] = [await recorded(student), await recorded(student, { gives: false })];
    const begun = await made([piece(sat.takeId)]);
    const [pictureId, voiceId] = [
      await brought(begun.id, 'picture', picture()),
      await brought(begun.id, 'sound', tone(2)),
    ];
    await save(student, begun, [piece(sat.takeId, { pictureId, voiceId }), piece(waiting.takeId)]);
    const download = async (path: string) => {
      const response = await fetch(`${t.base}/api/portfolios/${begun.id}/${path}`, {
        headers: student.cookies(),
      });
      expect(response.status).toBe(200);
      return new Uint8Array(await response.arrayBuffer());
    };
    const files = await unpacked(await download('portfolio.zip?language=pt'));
    const html = files.get('index.html')!.toString();
    const linked = [...html.matchAll(/src="([^"]+)"/g)].map(m => m[1]!);
    // What waits for feedback is its student's own all the same.
    expect(linked).toHaveLength(4);
    for (const place of linked) expect([place, files.get(place)!.length > 100]).toEqual([place, true]);
    expect([...files.keys()].sort()).toEqual(['index.html', ...linked].sort());
    expect(html).toContain('<html lang="pt"');
    const { id } = await addressOf(begun);
    const [plain, coded] = [await download('portfolio.pdf'), await download(`portfolio.pdf?address=${id}`)];
    expect((await PDFDocument.load(plain)).getPageCount()).toBeGreaterThan(0);
    expect((await PDFDocument.load(coded)).getTitle()).toContain('My <year>');
    expect(coded.length).toBeGreaterThan(plain.length);
  });

  it('forgets what was thrown away long ago, with what was brought for it, and no recording of an assessment', async () => {
    const { takeId } = await recorded(student);
    const portfolio = await made([piece(takeId)]);
    const [kept, left] = [
      await brought(portfolio.id, 'sound', tone(1)),
      await brought(portfolio.id, 'sound', tone(1)),
    ];
    await save(student, portfolio, [piece(takeId, { voiceId: kept })]);
    const { pool } = t.ecoute;
    const there = async () => {
      const [found] = await pool.query('SELECT id FROM recordings WHERE id IN (?)', [[takeId, kept, left]]);
      return (found as { id: string }[]).map(f => f.id).sort();
    };
    const long = 'UTC_TIMESTAMP(3) - INTERVAL 40 DAY';
    await pool.query(`UPDATE portfolio_files SET brought_at = ${long} WHERE portfolio_id = ?`, [
      portfolio.id,
    ]);
    // In steps, and each file has its turn.
    const inSteps: string[] = [];
    for (let at: string | null = null, n = 0; n === 0 || at !== null; n++) {
      const { left: some, next }: Awaited<ReturnType<typeof leftOver>> = await leftOver(pool, 30, at, 1);
      inSteps.push(...some);
      at = next;
    }
    expect(inSteps).toEqual([left]);
    await t.ecoute.jobs.sweep();
    expect(await there()).toEqual([takeId, kept].sort());
    await student.ask('DELETE', `/api/portfolios/${portfolio.id}`);
    await t.ecoute.jobs.sweep();
    expect(await there()).toEqual([takeId, kept].sort());
    await pool.query(`UPDATE portfolios SET removed_at = ${long} WHERE id = ?`, [portfolio.id]);
    await t.ecoute.jobs.sweep();
    expect(await there()).toEqual([takeId]);
  });
});
