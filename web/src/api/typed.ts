/** An entry with nothing in its fields, to be filled by its kind of data. */
export const NOTHING_TYPED = {
  readings: [],
  components: [],
  left_out: [],
  inspected: null,
  defects: [],
  between: null,
  typed_first: [],
};
