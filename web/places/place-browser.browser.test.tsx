// Choosing a place by walking, against a real server.
import { useState } from 'react'
import { uuidv7 } from 'uuidv7'
import { beforeEach, expect, inject, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { call } from '../api/call'
import { focused, show } from '../testing/render'
import { enterAs, newFile, uniqueName } from '../testing/writer'
import type { ChosenPlace } from './place'
import { PlaceBrowser } from './place-browser'

beforeEach(async () => {
  await enterAs('ida')
})
const shareId = inject('shareId')
const folder = (name: string, folderId: string | null = null) =>
  call('newFolder', { body: { shareId, folderId, name } })

async function browsing(at: ChosenPlace | null = null, more: { marked?: string; pointing?: boolean } = {}) {
  const chosen: (ChosenPlace | null)[] = []
  const pointed: string[] = []
  function Walk() {
    const [here, setHere] = useState(at)
    return (
      <PlaceBrowser
        at={here}
        marked={more.marked}
        {...(more.pointing && { onPoint: (file) => pointed.push(file.name) })}
        onChoose={(next) => {
          chosen.push(next)
          setHere(next)
        }}
      />
    )
  }
  const { screen } = await show(<Walk />)
  return { screen, chosen, pointed }
}

test('from the shares into a folder, by crumbs and a level up, back to the shares', async () => {
  const outer = await folder(`Inspections ${uuidv7().slice(-6)}`)
  const inner = await folder('Locks', outer.id)
  const { screen, chosen } = await browsing()
  await screen.getByRole('button', { name: 'Waterways' }).click()
  await screen.getByRole('button', { name: outer.name }).click()
  await screen.getByRole('button', { name: 'Locks' }).click()
  expect(chosen.map((place) => place?.folderId)).toEqual([null, outer.id, inner.id])
  await expect.element(screen.getByText('This place is empty')).toBeVisible()
  await screen.getByRole('button', { name: 'Up a level' }).click()
  expect(chosen.at(-1)?.folderId).toBe(outer.id)
  await screen.getByRole('navigation').getByRole('button', { name: 'Waterways' }).click()
  expect(chosen.at(-1)).toMatchObject({ shareId, folderId: null })
  await screen.getByRole('button', { name: 'Up a level' }).click()
  expect(chosen.at(-1)).toBeNull()
  await expect.element(screen.getByRole('button', { name: 'Up a level' })).toBeDisabled()
})

test('a share that one may only look at is no place to save in', async () => {
  await enterAs('tomas')
  const { screen } = await show(<PlaceBrowser at={null} onChoose={() => {}} />)
  await expect.element(screen.getByRole('region', { name: 'Place' })).toBeVisible()
  await expect.poll(async () => (await call('shares', {})).map(({ role }) => role)).toEqual(['view'])
  await expect.element(screen.getByRole('button', { name: 'Waterways' })).not.toBeInTheDocument()
})

test('a new folder is made by its name and Enter, once, and gone into', async () => {
  const outer = await folder(`Notices ${uuidv7().slice(-6)}`)
  const { screen, chosen } = await browsing({ shareId, folderId: outer.id, path: [] })
  await screen.getByRole('button', { name: 'New folder here' }).click()
  await expect.poll(focused).toBe('Name of the new folder')
  await userEvent.keyboard('Closures{Enter}')
  await expect.poll(() => chosen.length).toBe(1)
  const place = await call('place', { params: { shareId }, query: { folderId: outer.id } })
  expect(place.entries.map(({ name }) => name)).toEqual(['Closures'])
  expect(chosen[0]?.folderId).toBe(place.entries[0]!.id)
  await expect.element(screen.getByRole('textbox')).not.toBeInTheDocument()
})

test('a name that is taken is said and can be changed; Escape makes no folder', async () => {
  const outer = await folder(`Water ${uuidv7().slice(-6)}`)
  await folder('Levels', outer.id)
  const { screen, chosen } = await browsing({ shareId, folderId: outer.id, path: [] })
  await screen.getByRole('button', { name: 'New folder here' }).click()
  await userEvent.keyboard('levels{Enter}')
  await expect.element(screen.getByRole('alert')).toBeVisible()
  await userEvent.keyboard(' of October{Escape}')
  await expect.element(screen.getByRole('textbox')).not.toBeInTheDocument()
  const place = await call('place', { params: { shareId }, query: { folderId: outer.id } })
  expect(place.entries.map(({ name }) => name)).toEqual(['Levels'])
  expect(chosen).toEqual([])
})

test('files are listed, so that nothing looks free that is not, and can be pointed at for their name', async () => {
  const { file } = await newFile(uniqueName('Pointed at'), 'A name to go by.')
  const { screen, pointed } = await browsing({ shareId, folderId: null, path: [] }, { marked: file.id, pointing: true })
  const there = screen.getByRole('button', { name: new RegExp(file.name) })
  await expect.element(there).toBeEnabled()
  await there.click()
  expect(pointed).toEqual([file.name])
  const onlyShown = await browsing({ shareId, folderId: null, path: [] })
  await expect.element(onlyShown.screen.getByRole('button', { name: new RegExp(file.name) }).last()).toBeDisabled()
})

test('folders that a rule would make are shown as what they are: not there yet', async () => {
  const { screen } = await browsing({ shareId, folderId: null, path: ['2027', 'Locks'] })
  await expect.element(screen.getByText(/2027 \/ Locks is not there yet/)).toBeVisible()
  await expect.element(screen.getByRole('navigation')).toHaveTextContent('2027Locks')
})

test('the places that were used last are one step away', async () => {
  const outer = await folder(`Recent ${uuidv7().slice(-6)}`)
  await call('newFile', {
    query: { key: uuidv7(), reason: 'saved', shareId, folderId: outer.id, name: 'Used.txt' },
    bytes: new Uint8Array([65]),
  })
  const { screen, chosen } = await browsing()
  await screen.getByRole('button', { name: 'Recent places' }).click()
  await screen.getByRole('menuitem', { name: `Waterways / ${outer.name}` }).click()
  expect(chosen.at(-1)?.folderId).toBe(outer.id)
})
