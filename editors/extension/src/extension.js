// Briefs in the editor: everything is answered by `fiesta language-server`; what it works out is shown in a panel.
const vscode = require('vscode');
const { LanguageClient, TransportKind } = require('vscode-languageclient/node');

const WORKED_OUT = ['fiesta.run', 'fiesta.step', 'fiesta.behind'];

let client;
let panel;

function server() {
  const command = vscode.workspace.getConfiguration('fiesta').get('command', 'fiesta');
  return { command, args: ['language-server'], transport: TransportKind.stdio };
}

async function start() {
  client = new LanguageClient('fiesta', 'Fiesta', server(), {
    documentSelector: [{ scheme: 'file', language: 'fiesta' }],
    synchronize: { fileEvents: vscode.workspace.createFileSystemWatcher('**/*.{brief,csv,tsv,txt,jsonl,json,xlsx,ods,parquet}') },
    middleware: { executeCommand: workedOut },
  });
  try {
    await client.start();
  } catch (failure) {
    const { command } = server();
    vscode.window.showErrorMessage(
      `Fiesta does not start: '${command} language-server' failed (${failure.message}). Set fiesta.command to where it is.`);
  }
}

/** Answers are texts, as on the terminal: they belong into a panel. */
async function workedOut(command, args, next) {
  if (!WORKED_OUT.includes(command)) {
    return next(command, args);
  }
  return vscode.window.withProgress(
    { location: vscode.ProgressLocation.Window, title: 'Fiesta works it out' },
    async () => {
      const text = await next(command, args);
      panel.clear();
      panel.append(String(text));
      panel.show(true);
      return text;
    });
}

exports.activate = async function activate(context) {
  panel = vscode.window.createOutputChannel('Fiesta result', 'plaintext');
  context.subscriptions.push(panel);
  context.subscriptions.push(vscode.commands.registerCommand('fiesta.restart', async () => {
    await exports.deactivate();
    await start();
  }));
  await start();
};

exports.deactivate = async function deactivate() {
  if (client) {
    const ended = client;
    client = undefined;
    await ended.stop().catch(() => {});
  }
};
