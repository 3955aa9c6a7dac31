import type { Job } from '../db/jobs.ts'

/**
 * Why something that a job was to bring about is still not there: nobody works on it any more. A record says only what is
 * there; whether anybody works on the rest is asked of the jobs, so that no record stays between when its job is lost.
 * @param job The latest job for it; none where the server ended before there was one.
 * @returns A sentence; undefined while a job waits or runs.
 */
export function whyLost(job: Pick<Job, 'state' | 'error'> | undefined): string | undefined {
  switch (job?.state) {
    case 'queued':
    case 'running':
      return undefined
    case 'stopped':
      return 'It was stopped before it was done.'
    case 'failed':
      return job.error ?? 'It failed in the middle; nothing was half written.'
    case 'done':
    case undefined:
      return 'The server ended before it was done.'
  }
}
