import type { BodyProps } from '../body'
export function WorkbookBody(_props: BodyProps) { return null }
