export function startPostgres(
  programs: string,
  data: string,
  account: { uid: number; gid: number } | undefined,
): Promise<{
  /** For the application, which may delete nothing that is append-only. */
  readonly url: string
  /** For the owner, who migrates. */
  readonly ownerUrl: string
  /** For the superuser, who makes roles and databases. */
  readonly superuserUrl: string
  readonly pid: number
  stop(): Promise<void>
}>
