/** How many rows go to the database in one statement, and about how many letters. */
const most = { rows: 500, letters: 500_000 };

/**
 * Rows for several statements instead of one: to hand a large one over holds up everybody else of this process.
 * @param rows made as they are asked for
 */
export function* portions(rows: Iterable<string>): Generator<string[]> {
  let portion: string[] = [];
  let letters = 0;
  for (const row of rows) {
    portion.push(row);
    letters += row.length;
    if (portion.length < most.rows && letters < most.letters) continue;
    yield portion;
    portion = [];
    letters = 0;
  }
  if (portion.length) yield portion;
}
