// What kind of value something is (OpenFormula 1.2 §6.13).
import { type Definitions, Fault, fault, type Plain } from './define'

const numberOfError = ['#NULL!', '#DIV/0!', '#VALUE!', '#REF!', '#NAME?', '#NUM!', '#N/A']

export const informationFunctions: Definitions = {
  TYPE: {
    takes: 'outcome',
    run: (value: Plain | Fault) => typeOf(value),
  },
  'ERROR.TYPE': {
    takes: 'outcome',
    run: (value: Plain | Fault) => (value instanceof Fault ? numberOfError.indexOf(value.error) + 1 : fault('#N/A')),
  },
}
const typeOf = (value: Plain | Fault): number =>
  value instanceof Fault ? 16 : typeof value === 'string' ? 2 : typeof value === 'boolean' ? 4 : 1
