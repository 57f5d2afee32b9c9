import type { Job } from '#contract';
import type { Code } from '#core/codes';
import type { Intake, IntoSurface } from '#core/project';
import { api } from '../frame/api.ts';
import { useProject } from '../project-state/store.ts';

/** What an intake says of its file, beside which file it is. */
export type IntakePart = Omit<Intake, 'id' | 'fileId' | 'fileName' | 'sha256' | 'on'>;

/** A file that the server has. */
export interface SentFile {
  id: string;
  sha256: string;
  name: string;
}

type More = { into?: IntoSurface; codes?: readonly Code[] };

/** Sends a file and begins its intake; what is begun goes on without the page. */
export async function takeInFile(
  project: string,
  file: File,
  part: IntakePart,
  more: More,
  onProgress: (share: number) => void,
  signal: AbortSignal,
  onSent: () => void = () => undefined,
): Promise<{ intake: string; job: Job; sent: SentFile }> {
  const sent = { ...(await api.upload(project, file, onProgress, signal)), name: file.name };
  onSent();
  return { ...(await takeInSent(project, sent, part, more)), sent };
}

/** Begins the intake of a file that is there, or of another part of it. */
export async function takeInSent(
  project: string,
  sent: SentFile,
  part: IntakePart,
  { into, codes }: More,
): Promise<{ intake: string; job: Job }> {
  const intake: Intake = {
    id: crypto.randomUUID().slice(0, 13),
    fileId: sent.id,
    fileName: sent.name,
    sha256: sent.sha256,
    on: true,
    ...part,
  };
  const job = await api.startIntake(project, useProject.getState().state!.revision, intake, into, codes);
  return { intake: intake.id, job };
}

/** Waits until an intake is in the project's document, or why it is not. */
export function intakeCame(intake: string, job: Job): Promise<{ ok: true } | { ok: false; reason: string }> {
  return new Promise((resolve) => {
    const look = (): boolean => {
      const { state, ended } = useProject.getState();
      const end = ended[job.id];
      if (state?.document.intakes.some((i) => i.id === intake)) resolve({ ok: true });
      else if (end && end.state !== 'done') resolve({ ok: false, reason: end.message });
      else return false;
      return true;
    };
    if (look()) return;
    const stop = useProject.subscribe(() => look() && stop());
  });
}
