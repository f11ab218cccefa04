/** A password that was made for somebody. */
export interface Given {
  name: string;
  password: string;
}
