/**
 * What the interface says stands in src/words, as whole sentences, where a second language can stand beside it. Anywhere
 * else a text that a person would read is a mistake: between tags, in what names or helps a field, or as a sentence in the code.
 */

/** Attributes that a person reads or hears. */
const READ = new Set(['alt', 'aria-label', 'help', 'helperText', 'label', 'placeholder', 'spoken', 'title', 'what']);

const LETTERS = /\p{L}{2,}/u;
/** Two words, the first with a capital: a sentence, or a heading. */
const SENTENCE = /^[\p{Lu}“][\p{L}’”]*[,:;]? .*\p{L}/u;

/** Names of keys, as the keyboard has them, are the same in each language. */
const KEYS = new Set(['kbd', 'code']);

export default {
  meta: { type: 'problem', schema: [], messages: { said: 'What the interface says belongs into src/words: {{text}}' } },
  create(context) {
    const report = (node, text) =>
      context.report({ node, messageId: 'said', data: { text: JSON.stringify(text.trim().slice(0, 60)) } });
    /** Whether a text ends up before somebody's eyes, by what it stands in. */
    const isRead = (node) => {
      for (let at = node; at.parent; at = at.parent) {
        const { parent } = at;
        if (parent.type === 'JSXAttribute')
          return READ.has(parent.name.type === 'JSXNamespacedName' ? '' : parent.name.name);
        if (parent.type === 'JSXExpressionContainer' && parent.parent.type === 'JSXElement')
          return !KEYS.has(parent.parent.openingElement.name.name);
        if (parent.type === 'JSXExpressionContainer' && parent.parent.type === 'JSXFragment') return true;
        // What decides which text is read is not read itself; nor is what a call is given.
        if (parent.type === 'ConditionalExpression' && parent.test === at) return false;
        if (parent.type === 'LogicalExpression' && parent.left === at && parent.operator !== '??') return false;
        if (
          ![
            'ConditionalExpression',
            'LogicalExpression',
            'TemplateLiteral',
            'JSXExpressionContainer',
            'TSAsExpression',
          ].includes(parent.type)
        )
          return false;
      }
      return false;
    };
    const isType = (node) =>
      node.parent.type === 'TSLiteralType' ||
      node.parent.type === 'ImportDeclaration' ||
      node.parent.type === 'ImportExpression';
    return {
      JSXText(node) {
        if (LETTERS.test(node.value) && !KEYS.has(node.parent.openingElement?.name.name)) report(node, node.value);
      },
      Literal(node) {
        if (typeof node.value !== 'string' || isType(node)) return;
        if ((LETTERS.test(node.value) && isRead(node)) || SENTENCE.test(node.value)) report(node, node.value);
      },
      TemplateLiteral(node) {
        const text = node.quasis.map(({ value }) => value.cooked).join('…');
        if ((LETTERS.test(text) && isRead(node)) || SENTENCE.test(text)) report(node, text);
      },
    };
  },
};
