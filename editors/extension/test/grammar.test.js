// The grammar colours the briefs that come with Fiesta: their words, texts, numbers and comments, and nothing is left in two minds.
const { test } = require('node:test');
const assert = require('node:assert');
const fs = require('node:fs');
const path = require('node:path');
const oniguruma = require('vscode-oniguruma');
const { Registry, INITIAL, parseRawGrammar } = require('vscode-textmate');

const FOLDER = path.join(__dirname, '..');
const BRIEFS = path.join(FOLDER, '..', '..', 'fiesta-examples', 'src', 'main', 'resources', 'ribera');

async function grammar() {
  const wasm = fs.readFileSync(require.resolve('vscode-oniguruma/release/onig.wasm')).buffer;
  await oniguruma.loadWASM(wasm);
  const file = path.join(FOLDER, 'fiesta.tmLanguage.json');
  const registry = new Registry({
    onigLib: Promise.resolve({
      createOnigScanner: (patterns) => new oniguruma.OnigScanner(patterns),
      createOnigString: (text) => new oniguruma.OnigString(text),
    }),
    loadGrammar: async () => parseRawGrammar(fs.readFileSync(file, 'utf8'), file),
  });
  return registry.loadGrammar('source.fiesta');
}

/** Each word of a text with its innermost scope. */
function words(fiesta, text) {
  const found = [];
  let state = INITIAL;
  for (const line of text.split('\n')) {
    const { tokens, ruleStack } = fiesta.tokenizeLine(line, state);
    state = ruleStack;
    for (const token of tokens) {
      const written = line.slice(token.startIndex, token.endIndex);
      if (written.trim()) found.push([written.trim(), token.scopes.at(-1)]);
    }
  }
  return found;
}

let loaded;
const load = () => (loaded ??= grammar());

test('words of a brief have their sort', async () => {
  const found = words(await load(), [
    "input sales from 'sales-*.csv' # the season",
    'table best from settled',
    "  only status = 'settled' and amount >= 2.50 and day > 2026-05-01",
    '  per site, stall give takings = sum(net only paid), n = count()',
    "  columns site 'Site', takings money",
    "report say 'Since {:from_day}: {best.rows}' parameter least decimal(2) = :least",
  ].join('\n'));
  const sort = (word) => found.find(([written]) => written === word)?.[1];
  for (const [word, scope] of [
    ['input', 'keyword.control.fiesta'], ['from', 'keyword.other.fiesta'], ["'sales-*.csv'", 'string.quoted.single.fiesta'],
    ['# the season', 'comment.line.number-sign.fiesta'], ['only', 'keyword.control.fiesta'], ['and', 'keyword.other.fiesta'],
    ['status', 'variable.other.name.fiesta'], ['2.50', 'constant.numeric.fiesta'], ['2026-05-01', 'constant.numeric.date.fiesta'],
    ['give', 'keyword.control.fiesta'], ['sum', 'support.function.fiesta'], ['money', 'keyword.other.fiesta'],
    ['{:from_day}', 'variable.parameter.fiesta'], ['decimal', 'storage.type.fiesta'], [':least', 'variable.parameter.fiesta'],
  ]) {
    assert.strictEqual(sort(word), scope, word);
  }
});

test('the briefs of the demo are coloured', async () => {
  const fiesta = await load();
  for (const file of fs.readdirSync(BRIEFS).filter((name) => name.endsWith('.brief'))) {
    const found = words(fiesta, fs.readFileSync(path.join(BRIEFS, file), 'utf8'));
    const of = (scope) => found.filter(([, own]) => own.startsWith(scope)).length;
    assert.ok(found.length > 100, file);
    for (const scope of ['keyword.control', 'keyword.other', 'string.quoted', 'support.function', 'constant.numeric']) {
      assert.ok(of(scope) > 3, `${file}: ${scope}`);
    }
    const unclosed = found.filter(([written, own]) => own.startsWith('string') && !written.includes("'") && !written.includes('"'));
    assert.ok(unclosed.every(([, own]) => own === 'string.quoted.single.fiesta'), file);
  }
});
