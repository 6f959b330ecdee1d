// All functions that the engine is given, once for every engine.
import { HyperFormula } from 'hyperformula'
import { tieRangesOnce } from '../graph'
import { arrayFunctions } from './arrays'
import { criteriaFunctions } from './criteria'
import { pluginOf } from './define'
import { informationFunctions } from './information'
import { lookupFunctions } from './lookups'
import { numberFunctions } from './numbers'
import { specialFunctions } from './special'
import { statisticsFunctions } from './statistics'
import { subtotalFunctions } from './subtotals'
import { textFunctions } from './texts'

export const ownFunctions = {
  ...arrayFunctions,
  ...criteriaFunctions,
  ...informationFunctions,
  ...lookupFunctions,
  ...numberFunctions,
  ...specialFunctions,
  ...statisticsFunctions,
  ...subtotalFunctions,
  ...textFunctions,
}

let all: ReadonlySet<string> | null = null
/** @returns the names of all functions that can be calculated, in capitals */
export function registeredFunctions(): ReadonlySet<string> {
  if (!all) {
    tieRangesOnce()
    const { plugin, names } = pluginOf(ownFunctions)
    // Those that the engine has by these names are taken out first, or it keeps its own.
    for (const name of Object.keys(names))
      if (HyperFormula.getRegisteredFunctionNames('enGB').includes(name)) HyperFormula.unregisterFunction(name)
    HyperFormula.registerFunctionPlugin(plugin, { enGB: names })
    all = new Set(HyperFormula.getRegisteredFunctionNames('enGB'))
  }
  return all
}
