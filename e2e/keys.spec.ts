import { flows } from './flows'
import { test } from './office'

test.use({ apart: 'keys' })

for (const [name, flow] of Object.entries(flows))
  test(`by keys alone: ${name}`, async ({ page, office }) => {
    page.on('dialog', (dialog) => void dialog.accept().catch(() => {}))
    await flow(page, office.url)
  })
