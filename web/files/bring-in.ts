// Brings files in: several at once, each with its progress, none twice.
import { uuidv7 } from 'uuidv7'
import { Problem, Saved } from '../../core/contract'
import { typeOfBytes } from '../../core/formats/signature'
import { familyOf, typeOfName } from '../../core/formats/types'
import { adviseName } from '../../core/naming/advice'
import { checkName, correctName } from '../../core/naming/check'
import { addressOf } from '../api/call'
import { t, told } from '../words'
import { size } from '../words/formats'

export interface BroughtIn {
  key: string
  file: File
  name: string
  /** 0 to 1 while it is sent. */
  progress: number
  state: 'waiting' | 'sending' | 'done' | 'refused'
  problem: Problem | null
  /** The name can be kept all the same. */
  mayKeepName?: boolean
}

export const toBringIn = (file: File, largest: number): BroughtIn => {
  const base = { key: uuidv7(), file, name: file.name.normalize('NFC'), progress: 0 }
  // Said before anything is sent.
  if (file.size > largest)
    return {
      ...base,
      state: 'refused',
      problem: {
        type: 'too-large',
        title: t('files.it-is-files-up-to-can-be', { file: size(file.size), largest: size(largest) }),
        status: 413,
      },
    }
  const fault = checkName(base.name)
  if (fault) {
    const freeName = correctName(base.name)
    return {
      ...base,
      state: 'refused',
      problem: { type: 'name-refused', title: told(fault.reason), status: 422, ...(freeName && { freeName }) },
    }
  }
  return { ...base, state: 'waiting', problem: null }
}

const endings = new Set(['', 'docx', 'xlsx', 'odt', 'ods', 'xls', 'doc', 'rtf', 'csv', 'txt', 'pdf', 'png', 'jpg'])

/** Asks about a file whose ending belies its bytes, before it is sent. */
export async function checkedEnding(item: BroughtIn): Promise<BroughtIn> {
  if (item.state !== 'waiting') return item
  const { file } = item
  // The beginning tells of most types, the end of packages.
  const parts = file.size > 200_000 ? [file.slice(0, 4096), file.slice(-65_536)] : [file]
  const bytesType = typeOfBytes(new Uint8Array(await new Blob(parts).arrayBuffer()))
  const ending = typeOfName(item.name).replace('jpeg', 'jpg')
  if (!bytesType || familyOf(ending) === bytesType || !endings.has(familyOf(ending))) return item
  const advice = adviseName(item.name, { bytesType }).find(({ about }) => about === 'type')
  if (!advice) return item
  return {
    ...item,
    state: 'refused',
    mayKeepName: true,
    problem: {
      type: 'name-refused',
      title: told(advice.reason),
      status: 422,
      ...(advice.correction && { freeName: advice.correction }),
    },
  }
}

/** Sends one file. (XMLHttpRequest, because fetch tells nothing of how far a request has got.) */
export function send(
  item: BroughtIn,
  place: { shareId: string; folderId: string | null },
  onProgress: (progress: number) => void,
): Promise<Saved | Problem> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest()
    request.open(
      'POST',
      addressOf('newFile', {
        query: {
          key: item.key,
          reason: 'brought in',
          shareId: place.shareId,
          folderId: place.folderId,
          name: item.name,
        },
      }),
    )
    request.setRequestHeader('content-type', 'application/octet-stream')
    request.upload.onprogress = ({ loaded, total }) => onProgress(total ? loaded / total : 0)
    request.onerror = () =>
      resolve({
        type: 'storage-unavailable',
        title: t('files.the-server-did-not-answer-try-again'),
        status: 0,
      })
    request.onload = () => {
      let answer: unknown = null
      try {
        answer = JSON.parse(request.responseText)
      } catch {}
      const saved = request.status < 300 ? Saved.safeParse(answer) : null
      resolve(
        saved?.data ??
          Problem.safeParse(answer).data ?? {
            type: 'unexpected',
            title: t('common.something-went-wrong-on-the-server'),
            status: request.status,
          },
      )
    }
    request.send(item.file)
  })
}
