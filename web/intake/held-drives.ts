// Folders of this computer that were chosen to be taken over. The browser gives them to this page alone and until it is
// closed: after that they are chosen again, and it goes on where it was.
import { isLitter, isLitterFolder } from '../../core/intake/litter'

export interface HeldDrive {
  name: string
  /** By their paths in it. */
  files: ReadonlyMap<string, File>
}
const held = new Map<string, HeldDrive>()

export const heldDrive = (intakeId: string): HeldDrive | undefined => held.get(intakeId)
export const holdDrive = (intakeId: string, drive: HeldDrive): void => void held.set(intakeId, drive)
export const letGo = (intakeId: string): void => void held.delete(intakeId)

/** What was chosen, without the folder's own name; null where it holds no file. */
export function driveOf(list: FileList): HeldDrive | null {
  const files = new Map<string, File>()
  let name = ''
  for (const file of list) {
    const [root, ...way] = (file.webkitRelativePath || file.name).split('/')
    if (way.length) name = root!
    const path = (way.length ? way : [root!]).join('/')
    if (!way.slice(0, -1).some(isLitterFolder)) files.set(path, file)
  }
  return files.size ? { name: name || '/', files: new Map([...files].sort(([a], [b]) => (a < b ? -1 : 1))) } : null
}

export const litterAmong = (path: string): boolean => isLitter(path.slice(path.lastIndexOf('/') + 1))
