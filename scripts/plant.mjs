// Small bugs, planted in a source file beside what is meant: each is a choice that is made while the code runs.
import ts from 'typescript';

const { SyntaxKind } = ts;

/** What a tired hand writes in place of what was meant. */
const operators = new Map([
  ['<', '<='],
  ['<=', '<'],
  ['>', '>='],
  ['>=', '>'],
  ['===', '!=='],
  ['!==', '==='],
  ['&&', '||'],
  ['||', '&&'],
  ['+', '-'],
  ['-', '+'],
  ['*', '/'],
  ['/', '*'],
]);
const methods = new Map([
  ['some', 'every'],
  ['every', 'some'],
]);
const ofMath = new Map([
  ['max', 'min'],
  ['min', 'max'],
]);

const isText = (node) =>
  ts.isStringLiteralLike(node) ||
  ts.isTemplateExpression(node) ||
  (ts.isBinaryExpression(node) && (isText(node.left) || isText(node.right)));

/** Another number in its place: ten times as much, one where it was nothing. */
const otherNumber = (text) => String(Number(text.replaceAll('_', '')) * 10 + (Number(text) === 0 ? 1 : 0));

/** What may be changed at a node: the words it would be said by, and how it is written for those within it. */
function changeAt(node, source) {
  const text = (of) => source.text.slice(of.getStart(source), of.end);
  if (ts.isBinaryExpression(node)) {
    const meant = text(node.operatorToken);
    const other = operators.get(meant);
    if (!other || ((meant === '+' || meant === '-') && (isText(node.left) || isText(node.right)))) return undefined;
    return {
      at: node.operatorToken,
      other,
      write: (id, within) => {
        const [left, right] = [within(node.left), within(node.right)];
        return `(${id} ? ((${left}) ${other} (${right})) : ((${left}) ${meant} (${right})))`;
      },
    };
  }
  if (ts.isPropertyAccessExpression(node) && ts.isCallExpression(node.parent) && node.parent.expression === node) {
    const isMath = ts.isIdentifier(node.expression) && node.expression.text === 'Math';
    const meant = node.name.text;
    const other = (isMath ? ofMath : methods).get(meant);
    if (!other) return undefined;
    const dot = node.questionDotToken ? '?.' : '';
    return { at: node.name, other, write: (id, within) => `${within(node.expression)}${dot}[${id} ? '${other}' : '${meant}']` };
  }
  const isLast =
    ts.isPrefixUnaryExpression(node) &&
    text(node) === '-1' &&
    ts.isCallExpression(node.parent) &&
    text(node.parent.expression).endsWith('.at');
  const other = isLast
    ? '0'
    : node.kind === SyntaxKind.TrueKeyword
      ? 'false'
      : node.kind === SyntaxKind.FalseKeyword
        ? 'true'
        : ts.isNumericLiteral(node) && !ts.isElementAccessExpression(node.parent)
          ? otherNumber(node.text)
          : undefined;
  return other === undefined || !isValue(node)
    ? undefined
    : { at: node, other, write: (id) => `(${id} ? ${other} : ${text(node)})` };
}

/** A literal that is worked out, not the name of a member. */
const isValue = (node) => !('name' in node.parent && node.parent.name === node);

const isTypeOnly = (node) =>
  ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node);

/** Every change that may be made in a file, in the order of its text: with the line as it is and as it would be. */
export function changesIn(file, code) {
  const source = ts.createSourceFile(file, code, ts.ScriptTarget.Latest, true);
  const lines = code.split('\n');
  const changes = [];
  const visit = (node) => {
    if (isTypeOnly(node)) return;
    const change = changeAt(node, source);
    if (change) {
      const [start, end] = [change.at.getStart(source), change.at.end];
      const { line, character } = source.getLineAndCharacterOfPosition(start);
      const from = lines[line];
      const to = from.slice(0, character) + change.other + from.slice(character + end - start);
      changes.push({ file, start, line, from: from.trim(), to: to.trim() });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return changes;
}

/** The file with the changes in it, each made only while `planted(number)` says so. */
export function planted(file, code, changes) {
  const source = ts.createSourceFile(file, code, ts.ScriptTarget.Latest, true);
  const numbers = new Map(changes.map((c) => [c.start, c.number]));
  const write = (node) => {
    const change = isTypeOnly(node) ? undefined : changeAt(node, source);
    const number = change && numbers.get(change.at.getStart(source));
    if (number !== undefined) return change.write(`globalThis.planted(${number})`, write);
    // What stands between the parts of a node stays as it is.
    let text = '';
    let from = node.getStart(source);
    ts.forEachChild(node, (child) => {
      text += code.slice(from, child.getStart(source)) + write(child);
      from = child.end;
    });
    return text + code.slice(from, node.end);
  };
  return code.slice(0, source.getStart(source)) + write(source);
}
