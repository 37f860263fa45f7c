import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Transform, type Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { asMeasured } from '@ecoute/contract/assessment/asMeasured';
import { filesOf } from '@ecoute/contract/assessment/files';
import { LIMITS } from '@ecoute/contract/limits';
import type { Medium, Wanted } from '@ecoute/contract/recordings';
import type { PackageReport } from '@ecoute/contract/packages';
import type { Me } from '@ecoute/contract/people';
import type { Pool } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import { notFound, Trouble } from '../../platform/trouble';
import { findAssessment, insertAssessment } from '../assessments/store';
import { original } from '../recordings/files';
import { type Recordings } from '../recordings/service';
import { findRecording, promptFiles } from '../recordings/store';
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

    const ids = new Map(manifest.media.map(m => [m.label, randomUUID() as string]));
    const { content, adapted, refused } = unpacked(manifest.content, randomUUID, label => ids.get(label));
    report.adapted.push(...adapted);
    report.refused.push(...refused);
    report.title = content?.title ?? null;
    const uses = usesOf(content);

    // Files are looked at before anything is made.
    const files = new Map<string, { id: string; media: UnzippedMedia; wanted: Wanted }>();
    for (const entry of manifest.media) {
      const media = zip.media.get(entry.path);
      const id = ids.get(entry.label)!;
      const use = uses.get(id) ?? ['sound', 'video'];
      const problem = !media
        ? 'is named in the manifest but is not in the package.'
        : media.sizeBytes !== entry.sizeBytes || media.sha256 !== entry.sha256
          ? 'is not what the manifest says: its checksum differs. Ask for the package once more.'
          : await this.fileProblem(media, use);
      if (problem) report.refused.push(`${entry.path} ${problem}`);
      else files.set(entry.label, { id, media: media!, wanted: wantedFor(use) });
    }
    for (const path of zip.media.keys())
      if (!manifest.media.some(m => m.path === path))
        report.adapted.push(`${path} is not named in the manifest and was left out.`);
    if (!content || report.refused.length > 0) return report;

    const assessmentId = randomUUID();
    for (const { id, media, wanted } of files.values())
      await this.recordings.bringIn(media.file, {
        id,
        ownerId: teacher.id,
        purpose: 'prompt',
        wanted,
        assessmentId,
        announcedType: 'application/octet-stream',
        fileName: media.path,
        limitMs: LIMITS.promptMs,
      });
    const stored = await promptFiles(
      this.pool,
      [...files.values()].map(f => f.id),
      teacher.id,
    );
    const measures = new Map(
      [...stored].map(([id, f]) => [id, { durationMs: f.durationMs, isVideo: f.medium === 'video' }]),
    );
    await insertAssessment(this.pool, {
      id: assessmentId,
      ownerId: teacher.id,
      content: asMeasured(content, measures),
    });
    const items = content.items.length;
    return {
      ...report,
      assessmentId,
      arrived: [
        `“${content.title || 'Without a title'}”`,
        items === 1 ? '1 item' : `${items} items`,
        ...(files.size > 0
          ? [files.size === 1 ? '1 file, checksum as sent' : `${files.size} files, checksums as sent`]
          : []),
      ],
    };
  }

  private async fileProblem(media: UnzippedMedia, use: readonly Medium[]): Promise<string | null> {
    const found = await this.recordings.inspectFile(media.file, wantedFor(use));
    const speaks = use.includes('sound');
    if (found.problem) return speaks ? 'is no sound that can be played.' : 'cannot be shown.';
    if (!found.medium || !use.includes(found.medium)) return 'is another kind of file than its place needs.';
    if (speaks && found.measured && found.measured.durationMs > LIMITS.promptMs)
      return 'is longer than a prompt may be (30 minutes).';
    return null;
  }
}

/** What each file must be, by its id: every place that uses it agrees. */
function usesOf(content: AssessmentContent | null): Map<string, readonly Medium[]> {
  const uses = new Map<string, readonly Medium[]>();
  for (const { recordingId, media } of content ? filesOf(content) : [])
    uses.set(
      recordingId,
      media.filter(m => uses.get(recordingId)?.includes(m) ?? true),
    );
  return uses;
}

function wantedFor(use: readonly Medium[]): Wanted {
  return use.includes('sound') ? 'voice' : use.includes('picture') ? 'picture' : 'show';
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
