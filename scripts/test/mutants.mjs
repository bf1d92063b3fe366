/**
 * Small changes to a source that its tests should notice: signs, comparisons, guards, tolerances, choices. The operators are those of
 * Offutt et al., "An Experimental Determination of Sufficient Mutant Operators" (1996), without ones that mostly change nothing.
 */
import ts from 'typescript'

const swaps = new Map([
  ['+', '-'],
  ['-', '+'],
  ['*', '/'],
  ['/', '*'],
  ['<', '>='],
  ['<=', '>'],
  ['>', '<='],
  ['>=', '<'],
  ['===', '!=='],
  ['!==', '==='],
  ['&&', '||'],
  ['||', '&&'],
  ['+=', '-='],
  ['-=', '+='],
])
const calls = new Map([
  ['Math.min', 'Math.max'],
  ['Math.max', 'Math.min'],
  ['Math.floor', 'Math.ceil'],
  ['Math.ceil', 'Math.floor'],
  ['Math.sin', 'Math.cos'],
  ['Math.cos', 'Math.sin'],
])

/** Words, not computation: what throws, what tells progress, and what says things. */
const isTalk = (node, source) =>
  ts.isThrowStatement(node) ||
  (ts.isNewExpression(node) && /Error/.test(node.expression.getText(source))) ||
  (ts.isCallExpression(node) && /(progress|checkStop|warn|say\w*|count\w*Of)$/.test(node.expression.getText(source))) ||
  ts.isTemplateExpression(node) ||
  ts.isImportDeclaration(node) ||
  ts.isTypeNode(node) ||
  ts.isInterfaceDeclaration(node) ||
  ts.isTypeAliasDeclaration(node)

/** Is the sum of texts, which has no difference. */
const isText = (node) =>
  ts.isStringLiteral(node) || ts.isTemplateExpression(node) || ts.isNoSubstitutionTemplateLiteral(node)

/** All changes to a source: where they begin and end, what stands there instead, and in a word what it is. */
export function mutantsOf(file, text) {
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.ES2022, true)
  const out = []
  const put = (node, instead, what) => {
    const start = node.getStart(source)
    const { line } = source.getLineAndCharacterOfPosition(start)
    const end = node.getEnd()
    out.push({ file, start, end, was: text.slice(start, end), text: instead, what, line: line + 1 })
  }
  const visit = (node) => {
    if (isTalk(node, source)) return
    if (ts.isBinaryExpression(node)) {
      const was = node.operatorToken.getText(source)
      const now = swaps.get(was)
      if (now && !isText(node.left) && !isText(node.right)) put(node.operatorToken, now, `${was} becomes ${now}`)
    }
    if (ts.isPrefixUnaryExpression(node)) {
      const operator = ts.tokenToString(node.operator)
      if (operator === '!' || operator === '-')
        put(node, node.operand.getText(source), `${operator} before ${node.operand.getText(source).slice(0, 30)} goes`)
    }
    if (ts.isNumericLiteral(node) && !/^[0-3]$/.test(node.text) && Number(node.text) < 1e6)
      put(node, String(Number(node.text) * 8), `${node.text} becomes eight times as much`)
    if (ts.isIfStatement(node) && !node.elseStatement)
      put(node.expression, 'false', `the guard ${node.expression.getText(source).slice(0, 40)} goes`)
    if (ts.isConditionalExpression(node))
      put(
        node,
        `${node.condition.getText(source)} ? ${node.whenFalse.getText(source)} : ${node.whenTrue.getText(source)}`,
        'both ways of a choice change places',
      )
    if (ts.isCallExpression(node)) {
      const was = node.expression.getText(source)
      if (calls.has(was)) put(node.expression, calls.get(was), `${was} becomes ${calls.get(was)}`)
      if (was === 'Math.abs') put(node, node.arguments[0].getText(source), 'Math.abs goes')
    }
    if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false', 'true becomes false')
    if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true', 'false becomes true')
    if (ts.isContinueStatement(node)) put(node, ';', 'continue goes')
    ts.forEachChild(node, visit)
  }
  visit(source)
  return out
}
