import { createMemoryRouter, Link, useNavigate } from 'react-router'
import { RouterProvider } from 'react-router/dom'
import { expect, test } from 'vitest'
import { render } from 'vitest-browser-react'
import { useStillHere } from './still-here'

/** A screen that goes on to another when its answer comes, beside a link to a third that takes a while to come. */
async function shown() {
  const answer = Promise.withResolvers<void>()
  const third = Promise.withResolvers<void>()
  function Asking() {
    const navigate = useNavigate()
    const here = useStillHere()
    const ask = async () => {
      await answer.promise
      if (here()) void navigate('/answered')
    }
    return (
      <>
        <button type="button" onClick={ask}>
          Ask
        </button>
        <Link to="/elsewhere">Elsewhere</Link>
      </>
    )
  }
  const router = createMemoryRouter([
    { path: '/', element: <Asking /> },
    { path: '/answered', element: <p>Answered</p> },
    { path: '/elsewhere', loader: () => third.promise.then(() => null), element: <p>Somewhere else</p> },
  ])
  const screen = await render(<RouterProvider router={router} />)
  await screen.getByRole('button', { name: 'Ask' }).click()
  return { screen, router, answer, third }
}

test('whoever waited is brought on', async () => {
  const { screen, answer } = await shown()
  answer.resolve()
  await expect.element(screen.getByText('Answered')).toBeVisible()
})

test('whoever went elsewhere, or is on the way, is not fetched back', async () => {
  const { screen, router, answer, third } = await shown()
  await screen.getByRole('link', { name: 'Elsewhere' }).click()
  await expect.poll(() => router.state.navigation.state).toBe('loading')
  answer.resolve()
  await answer.promise
  third.resolve()
  await expect.element(screen.getByText('Somewhere else')).toBeVisible()
  expect(router.state.location.pathname).toBe('/elsewhere')
})
