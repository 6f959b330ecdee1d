export function databaseAccount(): { uid: number; gid: number } | undefined
export function freePort(): Promise<number>
