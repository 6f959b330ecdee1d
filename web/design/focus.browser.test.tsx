// Where the keyboard goes when what had it is gone.
import { useState } from 'react'
import { afterEach, describe, expect, test } from 'vitest'
import { userEvent } from 'vitest/browser'
import { focused, show } from '../testing/render'
import { giveBack, goHome, toMain, useFocusHome, watchFocus } from './focus'

const ends: (() => void)[] = []
afterEach(() => {
  for (const end of ends.splice(0)) end()
})
function Home({ label = 'Work' }: { label?: string }) {
  useFocusHome(() => document.querySelector<HTMLElement>(`[aria-label="${label}"]`)!.focus())
  return <textarea aria-label={label} />
}
function Going({ what }: { what: React.ReactNode }) {
  const [there, setThere] = useState(true)
  return there ? (
    <div>
      <button type="button" onClick={() => setThere(false)}>
        Close
      </button>
      {what}
    </div>
  ) : null
}

describe('when the element with the focus goes', () => {
  test('the work has it at once, so that the next key is not lost', async () => {
    ends.push(watchFocus())
    const { screen } = await show(
      <main>
        <Home />
        <Going what={null} />
      </main>,
    )
    await userEvent.keyboard('{Tab}{Tab}{Enter}')
    await expect.poll(focused).toBe('Work')
    await userEvent.keyboard('next')
    await expect.element(screen.getByRole('textbox')).toHaveValue('next')
  })
  test('without a home, the screen itself has it, and the Tab key goes on from its beginning', async () => {
    ends.push(watchFocus())
    await show(
      <main aria-label="Files">
        <Going what={null} />
        <button type="button">First</button>
      </main>,
    )
    await userEvent.keyboard('{Tab}{Enter}')
    await expect.poll(() => document.activeElement?.tagName).toBe('MAIN')
    await userEvent.keyboard('{Tab}')
    expect(focused()).toBe('First')
  })
  test('a click into nothing is a person’s own: nothing is taken from it', async () => {
    ends.push(watchFocus())
    await show(
      <main>
        <Home />
        <p style={{ height: 200 }}>Nothing</p>
      </main>,
    )
    document.querySelector('textarea')!.focus()
    await userEvent.click(document.querySelector('p')!)
    document.querySelector('p')!.append(' here')
    await new Promise((done) => requestAnimationFrame(done))
    expect(document.activeElement).toBe(document.body)
  })
})

describe('going home', () => {
  test('takes the focus from nobody, nor from what is open above the screen', async () => {
    await show(
      <main>
        <Home />
        <button type="button">Other</button>
        <div role="dialog" data-state="open" />
      </main>,
    )
    goHome()
    expect(document.activeElement).toBe(document.body)
    document.querySelector('[role=dialog]')!.remove()
    document.querySelector('button')!.focus()
    goHome()
    expect(focused()).toBe('Other')
    ;(document.activeElement as HTMLElement).blur()
    goHome()
    expect(focused()).toBe('Work')
  })
  test('of two homes the one that came last counts, for as long as it is there', async () => {
    function Two() {
      const [second, setSecond] = useState(true)
      return (
        <main>
          <Home label="First" />
          {second && <Home label="Second" />}
          <button type="button" onClick={() => setSecond(false)}>
            Leave
          </button>
        </main>
      )
    }
    const { screen } = await show(<Two />)
    goHome()
    expect(focused()).toBe('Second')
    await screen.getByRole('button').click()
    ;(document.activeElement as HTMLElement).blur()
    goHome()
    expect(focused()).toBe('First')
  })
  test('what was opened gives it back to what opened it, where the screen has no home', async () => {
    const { screen } = await show(
      <main>
        <button type="button">Opener</button>
      </main>,
    )
    const opener = screen.getByRole('button').element()
    giveBack(opener)
    expect(focused()).toBe('Opener')
    ;(opener as HTMLElement).blur()
    giveBack(null)
    expect(document.activeElement?.tagName).toBe('MAIN')
    await screen.unmount()
    toMain()
    expect(document.activeElement).toBe(document.body)
  })
})
