// A convention as its form is filled in, against a real server: faults as they are made, and one version after the other.
import { beforeEach, expect, inject, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import type { Convention, Share } from '../../core/contract'
import { call } from '../api/call'
import { show } from '../testing/render'
import { enterAs } from '../testing/writer'
import { ConventionEditor } from './convention-editor'

let share: Share
let convention: Convention
beforeEach(async () => {
  await enterAs('priya')
  share = (await call('shares', {})).find(({ id }) => id === inject('shareId'))!
  const date = { id: 'date', label: 'Date', separator: '_', optional: false }
  const words = { id: 'words', label: 'Subject', separator: '_', optional: false }
  convention = await call('newConvention', {
    body: {
      shareId: share.id,
      folderId: null,
      name: `Notices ${crypto.randomUUID().slice(0, 8)}`,
      rules: {
        parts: [
          { ...date, kind: 'date', form: 'YYYY-MM-DD', source: 'today' },
          {
            ...words,
            kind: 'words',
            letters: 'as typed',
            longest: 60,
            symbols: 'letters and digits',
            spaces: '-',
          },
        ],
        folders: [],
      },
    },
  })
  return () => call('endConvention', { params: { conventionId: convention.id } })
})
async function editing() {
  let kept = 0
  let closed = 0
  const { screen } = await show(
    <ConventionEditor
      convention={convention}
      lists={[]}
      share={share}
      mayChange
      onClose={() => closed++}
      onKept={() => kept++}
    />,
  )
  return {
    screen,
    done: () => [kept, closed],
    name: screen.getByRole('textbox', { name: 'Name of the convention' }),
    keep: screen.getByRole('button', { name: /Use it from now on/ }),
    faults: screen.getByTestId('rule-faults'),
    labels: () =>
      screen
        .getByRole('listitem')
        .elements()
        .flatMap((item) => item.querySelector<HTMLInputElement>('input.font-medium')?.value ?? []),
  }
}

test('nothing is to be kept until something is changed, nor when it is changed back', async () => {
  const { name, keep, faults } = await editing()
  await expect.element(faults).toHaveTextContent('Every name it gives can be read back')
  await expect.element(keep).toBeDisabled()
  await userEvent.fill(name, `${convention.name}!`)
  await expect.element(keep).toBeEnabled()
  await userEvent.fill(name, convention.name)
  await expect.element(keep).toBeDisabled()
  await userEvent.fill(name, ' ')
  await expect.element(name).toHaveAccessibleDescription(/name/i)
  await expect.element(keep).toBeDisabled()
})

test('parts are added, moved and removed, and a name that reads in two ways is told while it is typed', async () => {
  const { screen, keep, faults, labels } = await editing()
  await expect.poll(labels).toEqual(['Date', 'Subject'])
  await screen.getByRole('button', { name: 'Add a part' }).click()
  await screen.getByRole('menuitem', { name: 'Free words' }).click()
  await expect.poll(labels).toEqual(['Date', 'Subject', 'Free words'])
  await userEvent.fill(screen.getByRole('textbox', { name: 'Before it' }).last(), '-')
  await expect.element(faults).toHaveTextContent(/could be read as .*, or as/)
  await expect.element(keep).toBeDisabled()
  // Letter by letter: the field keeps the keyboard through every change of what it belongs to.
  const label = screen.getByRole('textbox', { name: 'Free words', exact: true }).last()
  await userEvent.clear(label)
  await userEvent.type(label, 'Who it is for')
  await expect.poll(labels).toEqual(['Date', 'Subject', 'Who it is for'])
  await screen.getByRole('button', { name: 'Move Who it is for up' }).click()
  await expect.poll(labels).toEqual(['Date', 'Who it is for', 'Subject'])
  await screen.getByRole('button', { name: 'Remove Who it is for' }).click()
  await expect.poll(labels).toEqual(['Date', 'Subject'])
  await expect.element(keep).toBeDisabled()
})

test('what is kept is the next version; who changed an older one is told, and loses nothing of it', async () => {
  const { name, keep, done, screen } = await editing()
  const called = `${convention.name} 2`
  await userEvent.fill(name, `  ${called} `)
  await keep.click()
  await expect.poll(done).toEqual([1, 1])
  const now = (await call('naming', { params: { shareId: share.id } })).conventions.find(
    ({ id }) => id === convention.id,
  )
  expect(now).toMatchObject({ name: called, number: 2 })
  await userEvent.fill(name, 'A third name')
  await keep.click()
  await expect.element(screen.getByRole('alert')).toBeVisible()
  await expect.element(name).toHaveValue('A third name')
  expect(done()).toEqual([1, 1])
})
