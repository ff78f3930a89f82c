import type { ModelNode } from './model-syntax';

const greek = new Set(
  'alpha beta gamma delta epsilon zeta eta theta iota kappa lambda mu nu xi rho sigma tau phi chi psi omega Gamma Delta Theta Lambda Xi Pi Sigma Phi Psi Omega'.split(
    ' ',
  ),
);

const word = (text: string): string =>
  greek.has(text) ? `\\${text}` : text.length === 1 || /^\d+$/.test(text) ? text : `\\mathrm{${text}}`;

/** A symbol as it is set: `L_s` has a subscript, `alpha` is the letter. */
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

/** A model in TeX: quotients as fractions, roots as roots, and only the parentheses that are needed. */
export function modelTex(node: ModelNode): string {
  const inside = (inner: ModelNode, least: number) =>
    rankOf(inner) < least ? `\\left(${modelTex(inner)}\\right)` : modelTex(inner);
  switch (node.type) {
    case 'number':
      return node.text === 'pi'
        ? '\\pi'
        : node.text.replace(
            /[eE]([+-]?)(\d+)/,
            (_, sign: string, digits: string) => ` \\cdot 10^{${sign === '-' ? '-' : ''}${digits}}`,
          );
    case 'symbol':
      return symbolTex(node.name);
    case 'negate':
      return `-${inside(node.operand, 2)}`;
    case 'apply':
      return `\\operatorname{${node.name}}\\left(${node.args.map(modelTex).join(',\\, ')}\\right)`;
    case 'call': {
      if (node.name === 'sqrt') return `\\sqrt{${modelTex(node.args[0]!)}}`;
      if (node.name === 'abs') return `\\left|${modelTex(node.args[0]!)}\\right|`;
      if (node.name === 'exp') return `\\mathrm{e}^{${modelTex(node.args[0]!)}}`;
      const name = node.name === 'log' ? '\\ln' : node.name === 'log10' ? '\\log_{10}' : `\\operatorname{${node.name}}`;
      return `${name}\\left(${node.args.map(modelTex).join(',\\, ')}\\right)`;
    }
    case 'binary':
      switch (node.operator) {
        case '/':
          return `\\frac{${modelTex(node.left)}}{${modelTex(node.right)}}`;
        case '^':
          return `{${node.left.type === 'binary' && node.left.operator === '/' ? `\\left(${modelTex(node.left)}\\right)` : inside(node.left, 5)}}^{${modelTex(node.right)}}`;
        case '*':
          return `${inside(node.left, 2)} \\cdot ${inside(node.right, 2)}`;
        default:
          return `${inside(node.left, 1)} ${node.operator} ${inside(node.right, node.operator === '-' ? 2 : 1)}`;
      }
  }
}
