import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import ts from "typescript";
import { COMMANDS, NO_COMMANDS } from "./who-may.ts";

/** The exported functions of the server whose first parameter is an act. */
function commandsInCode(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const file = path.join(folder, entry.name);
    if (entry.isDirectory()) return commandsInCode(file);
    if (!file.endsWith(".ts") || file.endsWith(".test.ts")) return [];
    const source = ts.createSourceFile(file, readFileSync(file, "utf8"), ts.ScriptTarget.Latest, true);
    return source.statements.flatMap((statement) => {
      const modifiers = ts.canHaveModifiers(statement) ? (ts.getModifiers(statement) ?? []) : [];
      if (!modifiers.some((one) => one.kind === ts.SyntaxKind.ExportKeyword)) return [];
      if (ts.isFunctionDeclaration(statement)) return takesAct(statement) ? [statement.name?.text ?? ""] : [];
      if (!ts.isVariableStatement(statement)) return [];
      return statement.declarationList.declarations.flatMap(({ name, initializer }) =>
        initializer && ts.isArrowFunction(initializer) && takesAct(initializer) ? [name.getText()] : [],
      );
    });
  });
}

const takesAct = (made: ts.SignatureDeclaration) => made.parameters[0]?.type?.getText() === "Act";

test("every command in the code is in the table, or it is said why it need not be", () => {
  const known = [...Object.keys(COMMANDS), ...Object.keys(NO_COMMANDS)].sort();
  expect([...new Set(commandsInCode("server"))].sort()).toEqual(known);
});
