import { SMTPServer } from 'smtp-server';
import { TestEcoute } from '../../testing/ecoute';

/** Mail as it goes out to the world, by SMTP to a server of somebody else. */
describe('mail', () => {
  let t: TestEcoute;
  let server: SMTPServer;
  const came: { to: string[]; text: string }[] = [];
  beforeAll(async () => {
    server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['STARTTLS', 'AUTH'],
      logger: false,
      onData(stream, session, done) {
        let text = '';
        stream.on('data', chunk => (text += String(chunk)));
        stream.on('end', () => {
          came.push({ to: session.envelope.rcptTo.map(r => r.address), text });
          done();
        });
      },
    });
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
    const { port } = server.server.address() as { port: number };
    t = await TestEcoute.open({ mail: { url: `smtp://127.0.0.1:${port}`, from: 'school@b.example' } });
  });
  afterAll(async () => {
    await t.close();
    await new Promise<void>(resolve => server.close(() => resolve()));
  });

  it('is brought to the mail server that is set, whole and in any alphabet', async () => {
    const mail = { to: 'nour@b.example', subject: 'Cais e maré', text: 'Olá! ' + 'ação '.repeat(40) };
    await t.ecoute.mailer.send(t.ecoute.pool, mail);
    while (came.length === 0) await new Promise(resolve => setTimeout(resolve, 50));
    expect(came[0]!.to).toEqual(['nour@b.example']);
    expect(came[0]!.text).toContain('From: school@b.example');
    expect(came[0]!.text).toContain('Subject: =?UTF-8?');
    expect(came[0]!.text).toMatch(/a=C3=A7=C3=A3o/);
    expect(await t.ecoute.mailer.whyNot()).toBeNull();
  });
});
