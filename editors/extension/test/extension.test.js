// The packed extension starts the real command, shakes hands with it, and shows what it works out. The editor is played: every class it would
// bring is an empty one.
const { test } = require('node:test');
const assert = require('node:assert');
const fs = require('node:fs');
const Module = require('node:module');
const path = require('node:path');

const BUNDLE = path.join(__dirname, '..', 'dist', 'extension.js');
const COMMAND = process.env.FIESTA || path.join(__dirname, '..', '..', '..', 'bin', 'fiesta');

function played() {
  const shown = { commands: new Map(), panel: '', errors: [], log: [] };
  const nothing = () => ({ dispose() {} });
  const given = {
    workspace: {
      getConfiguration: () => ({ get: (key, otherwise) => (key === 'command' ? COMMAND : otherwise), has: () => false, inspect: () => undefined }),
      createFileSystemWatcher: () => ({ onDidCreate: nothing, onDidChange: nothing, onDidDelete: nothing, dispose() {} }),
      textDocuments: [],
      workspaceFolders: [],
      notebookDocuments: [],
      getWorkspaceFolder: () => undefined,
    },
    window: {
      createOutputChannel: () => ({ clear: () => { shown.panel = ''; }, append: (text) => { shown.panel += text; }, appendLine(text) { shown.log.push(text); }, show() {}, dispose() {}, info() {}, error(...all) { shown.log.push(all.map((one) => one?.stack ?? String(one)).join(' ')); }, warn() {}, debug() {}, trace() {} }),
      showErrorMessage: async (text) => { shown.errors.push(text); },
      withProgress: (options, task) => task(),
      visibleTextEditors: [],
      tabGroups: { all: [] },
    },
    commands: { registerCommand: (name, run) => { shown.commands.set(name, run); return { dispose() {} }; } },
    languages: { match: () => 0, createDiagnosticCollection: () => ({ set() {}, delete() {}, clear() {}, dispose() {} }) },
    env: { appName: 'played', language: 'en', machineId: '0' },
    version: '1.100.0',
    EventEmitter: class { event = nothing; fire() {} dispose() {} },
    CancellationTokenSource: class { token = { isCancellationRequested: false, onCancellationRequested: nothing }; dispose() {} cancel() {} },
    Disposable: class { static from() { return { dispose() {} }; } dispose() {} },
    CodeActionKind: { Empty: { append: (kind) => kind } },
    ProgressLocation: { Window: 10 },
    Uri: { parse: (value) => ({ toString: () => value, scheme: 'file', fsPath: value }) },
  };
  const deep = (known) =>
    new Proxy(known, {
      get: (target, name) => {
        if (name in target) {
          const value = target[name];
          return value && value.constructor === Object ? deep(value) : value;
        }
        if (typeof name !== 'string' || name === 'then') return undefined;
        if (/^(on[A-Z]|register|create)/.test(name)) return nothing;
        return (target[name] = class Empty { constructor(...args) { this.args = args; } });
      },
    });
  return { vscode: deep(given), shown };
}

test('it starts the command and shows what it works out', { timeout: 120_000 }, async () => {
  assert.ok(fs.existsSync(BUNDLE), 'built before');
  const { vscode, shown } = played();
  const load = Module._load;
  Module._load = (name, ...rest) => (name === 'vscode' ? vscode : load(name, ...rest));
  const extension = require(BUNDLE);
  const context = { subscriptions: [] };
  await extension.activate(context);
  assert.deepStrictEqual(shown.errors, [], shown.log.join('\n'));
  for (const command of ['fiesta.run', 'fiesta.step', 'fiesta.behind', 'fiesta.restart']) {
    assert.ok(shown.commands.has(command), command);
  }
  await shown.commands.get('fiesta.run')('file:///nowhere.brief');
  assert.strictEqual(shown.panel, 'There is nothing to run yet: the brief has no table.');
  await extension.deactivate();
});
