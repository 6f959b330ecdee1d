export function startPostgres(
  programs: string,
  data: string,
  account: { uid: number; gid: number } | undefined,
): Promise<{ readonly url: string; readonly pid: number; stop(): Promise<void> }>
