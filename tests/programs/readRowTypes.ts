// Says what the rows of each statement in the sources are said to be.
import path from "node:path";
import ts from "typescript";
import type { ColumnType, RowTypes } from "../rowTypes";

process.stdout.write(JSON.stringify(readRowTypes(process.cwd())));

/**
 * Reads from the sources what each `rows<T>(…)` says of its rows. The compiler cannot know what a
 * statement answers; the tests hold every answer to this.
 */
function readRowTypes(root: string): RowTypes {
  const config = ts.getParsedCommandLineOfConfigFile(
    path.join(root, "tsconfig.json"),
    { noEmit: true, incremental: false, composite: false },
    { ...ts.sys, onUnRecoverableConfigFileDiagnostic: () => {} },
  )!;
  const server = path.join(root, "src", "server");
  const files = config.fileNames.filter((f) => f.startsWith(server) && !f.includes(".test."));
  const program = ts.createProgram(files, config.options);
  const checker = program.getTypeChecker();
  const found: RowTypes = {};

  const columnType = (type: ts.Type, optional: boolean): ColumnType | null => {
    const types = new Set<string>();
    const words = new Set<string>();
    let open = false;
    const visit = (t: ts.Type): void => {
      if (t.isUnion()) return t.types.forEach(visit);
      if (t.isStringLiteral()) {
        types.add("string");
        words.add(t.value);
        return;
      }
      // A branded type is its primitive and a mark.
      if (t.isIntersection()) {
        const [primitive] = t.types.filter((part) => !(part.flags & ts.TypeFlags.Object));
        return visit(primitive ?? t.types[0]!);
      }
      const { flags } = t;
      if (flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown | ts.TypeFlags.TypeParameter))
        open = true;
      else if (flags & ts.TypeFlags.String) {
        types.add("string");
        types.add("any string");
      } else if (flags & ts.TypeFlags.NumberLike) types.add("number");
      else if (flags & ts.TypeFlags.BigIntLike) types.add("bigint");
      else if (flags & ts.TypeFlags.BooleanLike) types.add("boolean");
      else if (flags & ts.TypeFlags.Null) types.add("null");
      else if (flags & ts.TypeFlags.Undefined) optional = true;
      else types.add("object");
    };
    visit(type);
    if (open) return null;
    const closed = words.size > 0 && !types.delete("any string");
    types.delete("any string");
    return {
      types: [...types],
      ...(closed ? { words: [...words] } : {}),
      ...(optional ? { optional } : {}),
    };
  };

  const read = (node: ts.Node, file: ts.SourceFile, name: string): void => {
    if (
      ts.isCallExpression(node) &&
      node.expression.getText(file) === "rows" &&
      node.typeArguments?.length === 1
    ) {
      const { line } = file.getLineAndCharacterOfPosition(node.expression.getStart(file));
      const columns: Record<string, ColumnType> = {};
      const type = checker.getTypeFromTypeNode(node.typeArguments[0]!);
      for (const property of checker.getPropertiesOfType(type)) {
        const optional = (property.flags & ts.SymbolFlags.Optional) !== 0;
        const column = columnType(checker.getTypeOfSymbolAtLocation(property, node), optional);
        if (column) columns[property.name] = column;
      }
      found[`${name}:${line + 1}`] = columns;
    }
    ts.forEachChild(node, (child) => read(child, file, name));
  };
  for (const file of program.getSourceFiles())
    if (file.fileName.startsWith(server) && !file.isDeclarationFile)
      read(file, file, path.relative(root, file.fileName));
  return found;
}
