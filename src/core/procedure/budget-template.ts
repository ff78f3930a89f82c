import type { Budget, Distribution } from '../uncertainty/budget-schema';
import { compileModelOnce } from '../uncertainty/model-compile';
import type { BudgetTemplate, TemplateNumber } from './procedure-schema';

/** Named numbers that a family's model offers to the budget of a procedure, e.g. `standard.length`. */
export type ModelInputs = Record<string, number>;

/** The readings at one point, and the scatter pooled over the points of the pass. */
export type ObservedReadings = { values: number[]; pooled: { standardDeviation: number; dof: number } | null };

/** Names in a template hold points (`standard.length`); the model language does not, so they are carried by an underscore. */
const asSymbol = (name: string): string => name.replace(/\./g, '_');

/** A number of the template: itself, or an expression over the model's named inputs. */
export function templateValue(number: TemplateNumber, inputs: ModelInputs): number {
  if (typeof number === 'number') return number;
  const model = compileModelOnce(number.is.replace(/([A-Za-z])\.([A-Za-z])/g, '$1_$2'));
  const bySymbol = new Map(Object.entries(inputs).map(([name, value]) => [asSymbol(name), value]));
  const values = model.symbols.map((symbol) => {
    const value = bySymbol.get(symbol);
    if (value === undefined)
      throw new RangeError(`The procedure's budget asks for "${number.is}", which this model does not offer.`);
    return value;
  });
  return model.evaluate(values).value;
}

/**
 * The budget of one point: the procedure's template with this run's actual numbers.
 * @throws RangeError when the template asks for an input the model does not offer
 */
export function fillBudget(template: BudgetTemplate, name: string, inputs: ModelInputs, readings: ObservedReadings): Budget {
  const value = (number: TemplateNumber) => templateValue(number, inputs);
  return {
    format: 'just-twice/budget',
    version: 1,
    name,
    output: template.output,
    model: template.model,
    quantities: template.quantities.map((q) => {
      const d = q.distribution;
      let distribution: Distribution;
      switch (d.type) {
        case 'readings':
          distribution = {
            type: 'readings',
            values: readings.values,
            ...(readings.pooled ? { pooled: readings.pooled } : {}),
            ...(d.floor === undefined ? {} : { floor: value(d.floor) }),
          };
          break;
        case 'normal':
          distribution = {
            type: 'normal',
            mean: value(d.mean),
            standardUncertainty: value(d.standardUncertainty),
            ...(d.dof === undefined ? {} : { dof: d.dof }),
          };
          break;
        default:
          distribution = {
            type: d.type,
            mean: value(d.mean),
            halfWidth: value(d.halfWidth),
            ...(d.dof === undefined ? {} : { dof: d.dof }),
          };
      }
      return { symbol: q.symbol, unit: q.unit, name: q.name, source: q.source, distribution };
    }),
    ...(template.coverage ? { coverage: template.coverage } : {}),
  };
}
