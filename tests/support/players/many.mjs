// Replays golden traces by tables that may be damaged: a line of standard input names both; behind what comes out it says how that went.
import { readFileSync } from "node:fs";
const { Table, TableError, replay } = await import(process.argv[2]);

for (const line of readFileSync(0, "utf8").split("\n").filter((one) => one)) {
  const [table, golden] = line.split("\t");
  try {
    process.stdout.write(replay(new Table(JSON.parse(readFileSync(table, "utf8"))), readFileSync(golden, "utf8")));
    process.stdout.write("== 0\n");
  } catch (error) {
    if (!(error instanceof TableError || error instanceof SyntaxError)) throw error;
    process.stdout.write("== 1\n");
  }
}
