import type { ModelNode } from './model-syntax';

const greek = new Set(
  'alpha beta gamma delta epsilon zeta eta theta iota kappa lambda mu nu xi rho sigma tau phi chi psi omega Gamma Delta Theta Lambda Xi Pi Sigma Phi Psi Omega'.split(
    ' ',
  ),
);

const word = (text: string): string =>
  greek.has(text) ? `\\${text}` : text.length === 1 || /^\d+$/.test(text) ? text : `\\mathrm{${text}}`;

/** A symbol as it is set: `L_s` has a subscript, `alpha` is the letter. @example symbolTex('t_air') // 't_{\\mathrm{air}}' */
export function symbolTex(symbol: string): string {
  const [head, ...subscripts] = symbol.split('_').filter(Boolean);
  if (!head) return '\\_';
  return subscripts.length ? `${word(head)}_{${subscripts.map(word).join(',')}}` : word(head);
}

const rank = { '+': 1, '-': 1, '*': 2, '/': 2, '^': 4 } as const;

function rankOf(node: ModelNode): number {
  if (node.type === 'binary') return node.operator === '/' ? 5 : rank[node.operator];
  return node.type === 'negate' ? 1.5 : 5;
}

/**
 * A model in TeX: quotients as fractions, roots as roots, and only the parentheses that are needed.
 * @param symbol how a symbol is set
 * @example modelTex(parseModel('a / b')) // '\\frac{a}{b}'
 */
export function modelTex(node: ModelNode, symbol: (name: string) => string = symbolTex): string {
  const tex = (inner: ModelNode) => modelTex(inner, symbol);
  const inside = (inner: ModelNode, least: number) => (rankOf(inner) < least ? `\\left(${tex(inner)}\\right)` : tex(inner));
  switch (node.type) {
    case 'number':
      return node.text === 'pi'
        ? '\\pi'
        : node.text.replace(
            /[eE]([+-]?)(\d+)/,
            (_, sign: string, digits: string) => ` \\cdot 10^{${sign === '-' ? '-' : ''}${digits}}`,
          );
    case 'symbol':
      return symbol(node.name);
    case 'negate':
      return `-${inside(node.operand, 2)}`;
    case 'apply':
      return `\\operatorname{${node.name}}\\left(${node.args.map(tex).join(',\\, ')}\\right)`;
    case 'call': {
      if (node.name === 'sqrt') return `\\sqrt{${tex(node.args[0]!)}}`;
      if (node.name === 'abs') return `\\left|${tex(node.args[0]!)}\\right|`;
      if (node.name === 'exp') return `\\mathrm{e}^{${tex(node.args[0]!)}}`;
      const name = node.name === 'log' ? '\\ln' : node.name === 'log10' ? '\\log_{10}' : `\\operatorname{${node.name}}`;
      return `${name}\\left(${node.args.map(tex).join(',\\, ')}\\right)`;
    }
    case 'binary':
      switch (node.operator) {
        case '/':
          return `\\frac{${tex(node.left)}}{${tex(node.right)}}`;
        case '^':
          return `{${node.left.type === 'binary' && node.left.operator === '/' ? `\\left(${tex(node.left)}\\right)` : inside(node.left, 5)}}^{${tex(node.right)}}`;
        case '*':
          return `${inside(node.left, 2)} \\cdot ${inside(node.right, 2)}`;
        default:
          return `${inside(node.left, 1)} ${node.operator} ${inside(node.right, node.operator === '-' ? 2 : 1)}`;
      }
  }
}
