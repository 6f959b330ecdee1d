// Lays pages onto sides, beside the page that shows them.
import { expose, transfer } from 'comlink'
import { type Arranged, arrangedPdf } from '../../core/paper/arranged'
import type { Arrangement } from '../../core/paper/imposition'

const arranging = {
  async arrange(
    pdf: Uint8Array,
    chosen: readonly number[],
    how: Arrangement,
    paper: { width: number; height: number } | null,
  ): Promise<Arranged> {
    const made = await arrangedPdf(pdf, chosen, how, paper)
    return transfer(made, [made.pdf.buffer, ...(made.backs ? [made.backs.buffer] : [])] as ArrayBuffer[])
  },
}
export type Arranging = typeof arranging
expose(arranging)
