// The head and the foot of a document's pages, as the file has them, where they stand on paper.
import { DOMSerializer } from 'prosemirror-model'
import { useEffect, useRef } from 'react'
import { documentFromJSON, documentSchema } from '../../../core/content/document'
import type { PageEdge } from '../../../core/content/edges'
import { t } from '../../words/all'

/** What is shown of them: of several kinds of pages that of the first page. */
export function PageEdges({ edges }: { edges: readonly PageEdge[] }) {
  const pick = (edge: PageEdge['edge']) => {
    const own = edges.filter((one) => one.edge === edge)
    return own.find(({ on }) => on === 'first') ?? own.find(({ on }) => on === 'all')
  }
  const [head, foot] = [pick('head'), pick('foot')]
  return (
    <>
      {head && <Edge json={head.json} edge="head" />}
      {foot && <Edge json={foot.json} edge="foot" />}
    </>
  )
}

function Edge({ json, edge }: { json: unknown; edge: PageEdge['edge'] }) {
  const host = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const content = DOMSerializer.fromSchema(documentSchema).serializeFragment(documentFromJSON(json).content)
    host.current!.replaceChildren(content)
  }, [json])
  // Between the margins of the page, which give way on a narrow screen.
  useEffect(() => {
    const own = host.current!.parentElement!
    const page = own.parentElement!
    const follow = () => {
      const { paddingLeft, paddingRight } = getComputedStyle(page)
      own.style.padding = `0 ${paddingRight} 0 ${paddingLeft}`
    }
    const watch = new ResizeObserver(follow)
    watch.observe(page)
    return () => watch.disconnect()
  }, [])
  return (
    <section
      aria-label={t(edge === 'head' ? 'document.page-head' : 'document.page-foot')}
      title={t('document.page-edge-stays')}
      className={`page-edge absolute inset-x-0 ${edge === 'head' ? 'top-5' : 'bottom-5'}`}
    >
      <div ref={host} className="ProseMirror page-text" />
    </section>
  )
}
