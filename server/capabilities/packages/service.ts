import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Transform, type Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { withSoundLengths } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { PackageReport } from '@ecoute/contract/packages';
import type { Me } from '@ecoute/contract/people';
import type { Pool } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import { notFound, Trouble } from '../../platform/trouble';
import { findAssessment, insertAssessment } from '../assessments/store';
import { original, type Recordings } from '../recordings/service';
import { findRecording, promptDurations } from '../recordings/store';
import { FORMAT, manifestIn, packed, unpacked, VERSION, written, type MediaEntry } from './manifest';
import { unzipped, type UnzippedMedia } from './zip';

/** The largest package that is taken, zipped. */
const MOST_BYTES = 600 * 1024 * 1024;
/** Every file in a package has this time, so that the same assessment makes the same bytes. */
const THE_TIME = new Date(Date.UTC(2026, 0, 1));

/** Assessments out to colleagues and in from them, with their sounds. */
export class Packages {
  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly recordings: Recordings,
  ) {}

  /** The package of an assessment, as a stream, and a name for it. */
  async out(assessmentId: string): Promise<{ name: string; stream: Readable }> {
    const found = await findAssessment(this.pool, assessmentId);
    if (!found) throw notFound();
    const { content, media } = packed(found.content);
    const entries: (MediaEntry & { id: string })[] = [];
    for (const [label, id] of media) {
      const recording = await findRecording(this.pool, id);
      if (!recording?.sha256 || recording.sizeBytes === null) throw notFound();
      const mediaType = recording.mediaType ?? 'application/octet-stream';
      const { sizeBytes, sha256 } = recording;
      entries.push({ id, label, path: `media/${label}`, mediaType, sizeBytes, sha256 });
    }
    const zip = new ZipFile();
    const options = { mtime: THE_TIME, mode: 0o100644 };
    const manifest = written({
      format: FORMAT,
      version: VERSION,
      content,
      media: entries.map(({ id: _, ...entry }) => entry),
    });
    zip.addBuffer(Buffer.from(manifest), 'manifest.json', options);
    // Sound is compressed already.
    for (const { id, path } of entries)
      zip.addFile(this.files.localPath(original(id)), path, { ...options, compress: false });
    zip.end();
    const title = found.content.title.replace(/[^\p{L}\p{N} .-]/gu, '').trim() || 'assessment';
    return { name: `${title.slice(0, 80)}.ecoute.zip`, stream: zip.outputStream as unknown as Readable };
  }

  /**
   * Brings a package in: all of it or nothing.
   * @param request its body is the ZIP
   */
  async in(teacher: Me, request: IncomingMessage): Promise<PackageReport> {
    const folder = await mkdtemp(join(tmpdir(), 'ecoute-package-'));
    try {
      const file = join(folder, 'package.zip');
      await receive(request, file);
      return await this.bring(teacher, file, folder);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private async bring(teacher: Me, file: string, folder: string): Promise<PackageReport> {
    const report: PackageReport = {
      assessmentId: null,
      title: null,
      arrived: [],
      adapted: [],
      refused: [],
    };
    const refuse = (error: Error) => {
      report.refused.push(error.message);
      return null;
    };
    const zip = await unzipped(file, folder).catch(refuse);
    if (!zip) return report;
    let manifest;
    try {
      manifest = manifestIn(zip.manifest);
    } catch (error) {
      refuse(error as Error);
      return report;
    }
    for (const name of zip.strange)
      report.adapted.push(`${name} has no place in a package and was left out.`);

    // Sounds are looked at before anything is made.
    const sounds = new Map<string, { id: string; media: UnzippedMedia }>();
    for (const entry of manifest.media) {
      const media = zip.media.get(entry.path);
      const problem = !media
        ? 'is named in the manifest but is not in the package.'
        : media.sizeBytes !== entry.sizeBytes || media.sha256 !== entry.sha256
          ? 'is not what the manifest says: its checksum differs. Ask for the package once more.'
          : await this.soundProblem(media);
      if (problem) report.refused.push(`${entry.path} ${problem}`);
      else sounds.set(entry.label, { id: randomUUID(), media: media! });
    }
    for (const path of zip.media.keys())
      if (!manifest.media.some(m => m.path === path))
        report.adapted.push(`${path} is not named in the manifest and was left out.`);

    const known = new Set(manifest.media.map(m => m.label));
    const { content, adapted, refused } = unpacked(manifest.content, randomUUID, label =>
      known.has(label) ? (sounds.get(label)?.id ?? randomUUID()) : undefined,
    );
    report.adapted.push(...adapted);
    report.refused.push(...refused);
    report.title = content?.title ?? null;
    if (!content || report.refused.length > 0) return report;

    const assessmentId = randomUUID();
    for (const { id, media } of sounds.values())
      await this.recordings.bringIn(media.file, {
        id,
        ownerId: teacher.id,
        purpose: 'prompt',
        assessmentId,
        announcedType: 'application/octet-stream',
        fileName: media.path,
        limitMs: LIMITS.promptMs,
      });
    const ids = [...sounds.values()].map(s => s.id);
    const lengths = await promptDurations(this.pool, ids, teacher.id);
    await insertAssessment(this.pool, {
      id: assessmentId,
      ownerId: teacher.id,
      content: withSoundLengths(content, lengths),
    });
    const items = content.items.length;
    return {
      ...report,
      assessmentId,
      arrived: [
        `“${content.title || 'Without a title'}”`,
        items === 1 ? '1 item' : `${items} items`,
        ...(ids.length > 0
          ? [ids.length === 1 ? '1 sound, checksum as sent' : `${ids.length} sounds, checksums as sent`]
          : []),
      ],
    };
  }

  private async soundProblem(media: UnzippedMedia): Promise<string | null> {
    const found = await this.recordings.look(media.file);
    if (!found.problem && found.measured && found.measured.durationMs <= LIMITS.promptMs) return null;
    return found.problem ? 'is no sound that can be played.' : 'is longer than a prompt may be (30 minutes).';
  }
}

/** @throws Trouble tooLarge; what was received until then is thrown away by the caller */
async function receive(request: IncomingMessage, file: string): Promise<void> {
  let bytes = 0;
  const limit = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      if (bytes > MOST_BYTES)
        done(new Trouble('tooLarge', 'A package may have 600 MB. Ask for one with shorter sounds.'));
      else done(null, chunk);
    },
  });
  await pipeline(request, limit, createWriteStream(file));
}
