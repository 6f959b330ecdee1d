// Checks against many names and audits whole shares, off the main thread.
import { expose } from 'comlink'
import type { AuditMaterial, ControlledList, Rules, ShareNaming } from '../../core/contract'
import {
  Auditor,
  type AuditSummary,
  type CorrectionPlan,
  type Finding,
  planCorrections,
  summarise,
} from '../../core/naming/audit'
import { type Neighbour, Neighbours } from '../../core/naming/neighbours'
import { checkRules, type RuleFault } from '../../core/naming/rules'

export interface AuditResult {
  summary: AuditSummary
  plan: CorrectionPlan
  /** What differs and has no place in the plan's steps is in `plan.byHand`. */
  milliseconds: number
}

let here: { key: string; neighbours: Neighbours } | null = null
let cancelled = 0
const kinds = { d: 'document', s: 'spreadsheet', o: 'other' } as const
const step = 1000
const breath = () => new Promise((resolve) => setTimeout(resolve, 0))

const naming = {
  /** Keeps the names of one place; a key tells places and their changes apart. */
  keepNames(key: string, names: string[]): void {
    here = { key, neighbours: new Neighbours(names) }
  },
  /** Neighbours of a name in the place with this key; none while another place is kept. */
  neighbours(key: string, name: string, except: string | undefined): Neighbour[] {
    return here?.key === key ? here.neighbours.of(name, except) : []
  },
  /** What is wrong with a convention, and names that it gives. */
  tryRules: (rules: Rules, lists: ControlledList[]): RuleFault[] => checkRules(rules, lists),
  /** Stops an audit that runs. */
  cancel(): void {
    cancelled++
  },
  /** Audits a share; null when it was cancelled. @param onProgress is told the number of names read */
  async audit(
    material: AuditMaterial,
    share: ShareNaming,
    onProgress: (done: number) => void,
  ): Promise<AuditResult | null> {
    const begun = performance.now()
    const mine = ++cancelled
    const auditor = new Auditor(share, material.folders)
    const findings: Finding[] = []
    for (let from = 0; from < material.files.length; from += step) {
      for (const [id, folderId, name, kind, at, title] of material.files.slice(from, from + step))
        findings.push(auditor.audit({ id, folderId, name, kind: kinds[kind], at, title }))
      onProgress(Math.min(from + step, material.files.length))
      await breath()
      if (cancelled !== mine) return null
    }
    const folders = material.folders.map(({ parentId, name }) => ({ path: auditor.pathTo(parentId), name }))
    return {
      summary: summarise(findings),
      plan: planCorrections(findings, folders),
      milliseconds: performance.now() - begun,
    }
  },
}
export type NamingWork = typeof naming
expose(naming)
