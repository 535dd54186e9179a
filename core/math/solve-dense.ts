/**
 * Solves a small system of linear equations by elimination with pivots. O(n³).
 *
 * @param matrix - [n, n] row by row; used up. @param right - [n]; used up.
 * @returns [n]; not finite when the matrix has no inverse.
 */
export function solveDense(matrix: Float64Array, right: Float64Array): Float64Array {
  const n = right.length;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let r = column + 1; r < n; r++) {
      if (Math.abs(matrix[n * r + column]!) > Math.abs(matrix[n * pivot + column]!)) pivot = r;
    }
    if (pivot !== column) {
      for (let c = 0; c < n; c++) {
        const value = matrix[n * column + c]!;
        matrix[n * column + c] = matrix[n * pivot + c]!;
        matrix[n * pivot + c] = value;
      }
      [right[column], right[pivot]] = [right[pivot]!, right[column]!];
    }
    for (let r = column + 1; r < n; r++) {
      const factor = matrix[n * r + column]! / matrix[n * column + column]!;
      for (let c = column; c < n; c++)
        matrix[n * r + c] = matrix[n * r + c]! - factor * matrix[n * column + c]!;
      right[r] = right[r]! - factor * right[column]!;
    }
  }
  const solution = new Float64Array(n);
  for (let r = n - 1; r >= 0; r--) {
    let sum = right[r]!;
    for (let c = r + 1; c < n; c++) sum -= matrix[n * r + c]! * solution[c]!;
    solution[r] = sum / matrix[n * r + r]!;
  }
  return solution;
}
