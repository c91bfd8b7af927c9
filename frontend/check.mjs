// Types, then lint, over one program: what the compiler has found out of a type, the rules that ask for types need not find out again.
import { ESLint } from 'eslint';
import ts from 'typescript';

const host = {
  ...ts.sys,
  onUnRecoverableConfigFileDiagnostic: (broken) => {
    throw new Error(ts.flattenDiagnosticMessageText(broken.messageText, '\n'));
  },
};
const { fileNames, options } = ts.getParsedCommandLineOfConfigFile('tsconfig.json', {}, host);
const program = ts.createProgram(fileNames, options);
const wrong = ts.getPreEmitDiagnostics(program);
const names = { getCurrentDirectory: ts.sys.getCurrentDirectory, getCanonicalFileName: (n) => n, getNewLine: () => '\n' };
process.stdout.write(ts.formatDiagnostics(wrong, names));

const parserOptions = { project: undefined, programs: [program] };
const eslint = new ESLint({ overrideConfig: { languageOptions: { parserOptions } } });
const found = await eslint.lintFiles(['src', 'test']);
process.stdout.write(await (await eslint.loadFormatter('stylish')).format(found));
process.exitCode = wrong.length || found.some((file) => file.errorCount || file.warningCount) ? 1 : 0;
