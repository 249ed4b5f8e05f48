/**
 * The shapes of the magnetic-ink line of a cheque (E-13B of ISO 1004), on a grid of 7 × 9 squares
 * of 0.013 inch, right edge aligned; characters follow each other every 0.125 inch.
 * Besides the figures: T transit, A amount, U on-us, D dash.
 */
const SHAPES: Readonly<Record<string, readonly string[]>> = {
  "0": [
    ".######",
    ".#....#",
    ".#....#",
    ".#....#",
    ".#....#",
    ".#....#",
    ".#....#",
    ".#....#",
    ".######",
  ],
  "1": [
    "...##..",
    "....#..",
    "....#..",
    "....#..",
    "....#..",
    "...####",
    "...####",
    "...####",
    "...####",
  ],
  "2": [
    "...####",
    "......#",
    "......#",
    "......#",
    "...####",
    "...#...",
    "...#...",
    "...#...",
    "...####",
  ],
  "3": [
    "..####.",
    ".....#.",
    ".....#.",
    ".....#.",
    "..#####",
    ".....##",
    ".....##",
    ".....##",
    "..#####",
  ],
  "4": [
    ".##....",
    ".##....",
    ".##....",
    ".##..#.",
    ".##..#.",
    ".######",
    ".....##",
    ".....##",
    ".....##",
  ],
  "5": [
    "..#####",
    "..#....",
    "..#....",
    "..#....",
    "..#####",
    "......#",
    "......#",
    "......#",
    "..#####",
  ],
  "6": [
    ".##....",
    ".#.....",
    ".#.....",
    ".#.....",
    ".######",
    ".#....#",
    ".#....#",
    ".#....#",
    ".######",
  ],
  "7": [
    "..#####",
    "..#...#",
    "......#",
    "....###",
    "....#..",
    "....#..",
    "....#..",
    "....#..",
    "....#..",
  ],
  "8": [
    "..####.",
    "..#..#.",
    "..#..#.",
    "..#..#.",
    ".######",
    ".##..##",
    ".##..##",
    ".##..##",
    ".######",
  ],
  "9": [
    ".######",
    ".#....#",
    ".#....#",
    ".#....#",
    ".######",
    ".....##",
    ".....##",
    ".....##",
    ".....##",
  ],
  T: [
    "...#...",
    "...#...",
    "...#.##",
    "...#.##",
    "...#...",
    "...#.##",
    "...#.##",
    "...#...",
    "...#...",
  ],
  A: [
    "#......",
    "#......",
    "#....##",
    "#..####",
    "...##..",
    "#..##..",
    "#..####",
    "#....##",
    "#......",
  ],
  U: [
    "....#..",
    "..#.#..",
    "..#.#..",
    "..#.#..",
    "......#",
    "..#...#",
    "..#...#",
    "..#...#",
    "......#",
  ],
  D: [
    ".......",
    ".......",
    ".......",
    "#.#.##.",
    "#.#.##.",
    "#.#.##.",
    ".......",
    ".......",
    ".......",
  ],
};

/** Points (1/72 inch) of one square of the grid, and from one character to the next. */
export const MAGNETIC_UNIT = 0.013 * 72;
export const MAGNETIC_PITCH = 0.125 * 72;

export interface MagneticStroke {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * The line as rectangles, in points from its upper left corner. A space leaves a character out.
 * Errors: throws on a character that the line has no shape for.
 */
export function magneticLine(text: string): MagneticStroke[] {
  const strokes: MagneticStroke[] = [];
  [...text].forEach((character, place) => {
    if (character === " ") return;
    const shape = SHAPES[character];
    if (!shape) throw new RangeError(`no magnetic shape for ${character}`);
    shape.forEach((row, y) => {
      for (const run of row.matchAll(/#+/g))
        strokes.push({
          x: place * MAGNETIC_PITCH + run.index * MAGNETIC_UNIT,
          y: y * MAGNETIC_UNIT,
          width: run[0].length * MAGNETIC_UNIT,
          height: MAGNETIC_UNIT,
        });
    });
  });
  return strokes;
}

/**
 * What the line of a cheque says: its number between on-us marks, the sort code between transit
 * marks, the account.
 */
export const chequeLine = (number: number, sort: string, account: string): string =>
  `U${String(number).padStart(6, "0")}U T${sort}T ${account}U`;
