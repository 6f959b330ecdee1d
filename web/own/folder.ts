// A folder of this computer that somebody let this page use (File System Access). A file is written beside its name by the
// browser and takes it when it is whole; it is read back before it is said to be there.

/** Hexadecimal SHA-256. The browser gives folders only to pages that it trusts, and these have it. */
export async function sumOf(bytes: BufferSource): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('')
}

/** What it does not say, or does otherwise, than what is there. */
export class NotAsWritten extends Error {}

interface Asking {
  queryPermission?(how: { mode: 'readwrite' }): Promise<PermissionState>
  requestPermission?(how: { mode: 'readwrite' }): Promise<PermissionState>
}
const writing = { mode: 'readwrite' } as const

/** Whether it may be used; the browser asks for it again after a while. */
export const mayUse = async (folder: FileSystemDirectoryHandle): Promise<boolean> =>
  ((await (folder as Asking).queryPermission?.(writing)) ?? 'granted') === 'granted'
/** Asks for it, from a click or a key. */
export const askToUse = async (folder: FileSystemDirectoryHandle): Promise<boolean> =>
  ((await (folder as Asking).requestPermission?.(writing)) ?? 'granted') === 'granted'

type Picker = (how: { mode: 'readwrite'; id: string }) => Promise<FileSystemDirectoryHandle>
const picker = (): Picker | undefined => (window as { showDirectoryPicker?: Picker }).showDirectoryPicker
export const canChooseFolder = (): boolean => typeof picker() === 'function'
/** @returns null where nobody chose one */
export async function chooseFolder(): Promise<FileSystemDirectoryHandle | null> {
  try {
    return (await picker()?.call(window, { ...writing, id: 'jaula' })) ?? null
  } catch (error) {
    if ((error as DOMException).name === 'AbortError') return null
    throw error
  }
}

const isMissing = (error: unknown) => ['NotFoundError', 'TypeMismatchError'].includes((error as DOMException).name)

async function parentOf(root: FileSystemDirectoryHandle, path: string, create: boolean) {
  const steps = path.split('/')
  const name = steps.pop()!
  let folder = root
  for (const step of steps) folder = await folder.getDirectoryHandle(step, { create })
  return { folder, name }
}

/** @returns null where there is none */
export async function fileAt(root: FileSystemDirectoryHandle, path: string): Promise<File | null> {
  try {
    const { folder, name } = await parentOf(root, path, false)
    return await (await folder.getFileHandle(name)).getFile()
  } catch (error) {
    if (isMissing(error)) return null
    throw error
  }
}

/** @returns the file as it is there then @throws NotAsWritten when it does not read back as it should */
export async function write(
  root: FileSystemDirectoryHandle,
  path: string,
  bytes: Uint8Array<ArrayBuffer>,
  sha256: string,
): Promise<File> {
  const { folder, name } = await parentOf(root, path, true)
  const file = await folder.getFileHandle(name, { create: true })
  const stream = await file.createWritable()
  try {
    await stream.write(bytes)
    await stream.close()
  } catch (error) {
    await stream.abort().catch(() => {})
    throw error
  }
  const there = await file.getFile()
  if ((await sumOf(await there.arrayBuffer())) !== sha256) throw new NotAsWritten()
  return there
}

/** Takes a file away that is still what it was. */
export async function removeIfSame(root: FileSystemDirectoryHandle, path: string, sha256: string): Promise<void> {
  const there = await fileAt(root, path)
  if (!there || (await sumOf(await there.arrayBuffer())) !== sha256) return
  const { folder, name } = await parentOf(root, path, false)
  await folder.removeEntry(name)
}
