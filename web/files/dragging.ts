// Files and folders are dragged to folders, to the way above and to other shares. The rows carry no
// state for it: a list of a hundred thousand scrolls as if nothing could be dragged.
import { draggable, dropTargetForElements, monitorForElements } from '@atlaskit/pragmatic-drag-and-drop/element/adapter'
import { pointerOutsideOfPreview } from '@atlaskit/pragmatic-drag-and-drop/element/pointer-outside-of-preview'
import { setCustomNativeDragPreview } from '@atlaskit/pragmatic-drag-and-drop/element/set-custom-native-drag-preview'
import { type RefObject, useEffect, useRef, useState } from 'react'
import type { Entry } from '../../core/contract'
import { t } from '../words'

export interface DropPlace {
  shareId: string
  folderId: string | null
  name: string
}

/** What is chosen in the list that is shown: dragging one of them drags all. */
export const chosenToDrag: { current: ReadonlyMap<string, Entry> } = { current: new Map() }

/** Makes an element carry an entry; nothing happens while the entry is undefined. */
export function useDrag(element: RefObject<HTMLElement | null>, entry: Entry | undefined): void {
  useEffect(() => {
    if (!entry || !element.current) return
    const entries = () => (chosenToDrag.current.has(entry.id) ? [...chosenToDrag.current.values()] : [entry])
    return draggable({
      element: element.current,
      getInitialData: () => ({ entries: entries() }),
      onGenerateDragPreview: ({ nativeSetDragImage }) =>
        setCustomNativeDragPreview({
          nativeSetDragImage,
          getOffset: pointerOutsideOfPreview({ x: '12px', y: '8px' }),
          render: ({ container }) => {
            const box = document.createElement('div')
            box.className = 'rounded-md border bg-paper px-3 py-2 font-mono text-[14px] text-ink'
            const carried = entries()
            box.textContent =
              carried.length === 1 ? carried[0]!.name : t('files.files-and-folders-2', { carried: carried.length })
            container.append(box)
          },
        }),
    })
  }, [element, entry])
}

/** Makes an element take what is dragged. @returns whether something it can take hangs over it */
export function useDrop(element: RefObject<HTMLElement | null>, place: DropPlace | null): boolean {
  const [over, setOver] = useState(false)
  const key = place && JSON.stringify(place)
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key is the place’s own
  useEffect(() => {
    if (!place || !element.current) return
    return dropTargetForElements({
      element: element.current,
      getData: () => ({ ...place }),
      canDrop: ({ source }) => moving(source.data.entries as Entry[] | undefined, place).length > 0,
      onDragEnter: () => setOver(true),
      onDragLeave: () => setOver(false),
      onDrop: () => setOver(false),
    })
  }, [element, key])
  return over
}

/** Those of the entries that a drop there would move. */
const moving = (entries: readonly Entry[] | undefined, to: DropPlace): Entry[] =>
  (entries ?? []).filter(
    (entry) => entry.id !== to.folderId && (entry.folderId !== to.folderId || entry.shareId !== to.shareId),
  )

/** Calls back with what was dropped where. */
export function useDropped(dropped: (entries: Entry[], to: DropPlace) => void): void {
  const latest = useRef(dropped)
  latest.current = dropped
  useEffect(
    () =>
      monitorForElements({
        onDrop: ({ source, location }) => {
          const to = location.current.dropTargets[0]?.data as unknown as DropPlace | undefined
          const entries = to ? moving(source.data.entries as Entry[] | undefined, to) : []
          if (to && entries.length) latest.current(entries, to)
        },
      }),
    [],
  )
}
