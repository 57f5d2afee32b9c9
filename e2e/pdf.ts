import { spawnSync } from 'node:child_process';

/** The words of a PDF as Debian's pdftotext finds them. */
export function wordsOfPdf(bytes: Buffer): string {
  const { status, stdout, stderr } = spawnSync('pdftotext', ['-layout', '-', '-'], { input: bytes, encoding: 'utf8', maxBuffer: 1 << 28 }); // prettier-ignore
  if (status !== 0) throw new Error(stderr);
  // Numbers are held together by spaces that do not part.
  return stdout.replaceAll('\u00a0', ' ');
}
