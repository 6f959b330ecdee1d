// What this process is doing to copies just now, for whoever watches.
export interface Progress {
  siteId: string
  shareId: string
  is: 'copy' | 'check'
  done: number
  all: number
}

const under = new Set<Progress>()

export function beginning(siteId: string, shareId: string, is: Progress['is']): Progress {
  const one: Progress = { siteId, shareId, is, done: 0, all: 0 }
  under.add(one)
  return one
}
export const ended = (one: Progress): boolean => under.delete(one)
export const doingTo = (siteId: string, shareId: string): Progress | undefined =>
  [...under].find((one) => one.siteId === siteId && one.shareId === shareId)
