/** A recipe as it is sent: how a table becomes samples. The server reads it; here it is put together by hand. */
export interface Recipe {
  read: Read;
  shape: Shape;
  time?: { column: string; format?: string | null } | null;
  tags?: Record<string, string> | null;
  where?: readonly { column: string; is: readonly string[] }[] | null;
  order?: 'given' | 'time' | null;
  blank_rows?: 'gap' | 'skip' | null;
}

export interface Read {
  format: 'csv' | 'xlsx' | 'ods' | 'json';
  delimiter?: string | null;
  decimal?: '.' | ',' | null;
  skip_rows?: number | null;
  header_rows?: number | null;
  sheet?: string | null;
}

export type Shape =
  | { kind: 'across'; values: readonly string[] }
  | { kind: 'down'; values?: readonly string[] | null; tag?: string | null }
  | { kind: 'column'; value: string; size: number; last_short?: 'keep' | 'drop' | null }
  | { kind: 'grouped'; value: string; by: readonly string[]; gather?: 'neighbours' | 'all' | null }
  | {
      kind: 'crossed';
      rows: string;
      values?: readonly string[] | null;
      row_tag: string;
      column_tag: string;
      sample: 'cell' | 'row' | 'column';
    }
  | {
      kind: 'counts';
      count?: string | null;
      kinds?: Record<string, string> | null;
      inspected?: string | number | null;
    }
  | { kind: 'period'; value?: string | null; per: Per; how: How };

export type Per = 'hour' | 'day' | 'week' | 'month';
export type How = 'sum' | 'mean' | 'median' | 'min' | 'max' | 'count';
export type Kind = Shape['kind'];

/** What a column is for. */
export type Part = 'reading' | 'time' | 'tag' | 'groups' | 'label' | 'count' | 'inspected' | 'kind' | 'left_out';

/** Shapes in which a column is a sample: nothing beside its label is read of it. */
export const ofColumns = (shape: Shape): boolean =>
  shape.kind === 'down' || (shape.kind === 'crossed' && shape.sample === 'column');

/** Columns that hold readings, or what is drawn together. */
function readings(shape: Shape): readonly string[] | null {
  switch (shape.kind) {
    case 'across':
      return shape.values;
    case 'down':
    case 'crossed':
      return shape.values ?? null;
    case 'column':
    case 'grouped':
      return [shape.value];
    case 'period':
      return shape.value == null ? [] : [shape.value];
    case 'counts':
      return [];
  }
}

/** A part of a table that can go into a characteristic of its own. */
export interface TablePart {
  /** The column, or the value of a tag. */
  name: string;
  recipe: Recipe;
}

/** Columns that can each be a characteristic's readings: those that are some now, and those that nothing is made of. */
export function columnsApart(recipe: Recipe, columns: readonly string[]): readonly TablePart[] {
  if (recipe.shape.kind !== 'across') return [];
  const apart = columns.filter((column) => ['reading', 'left_out'].includes(partOf(recipe, column)));
  return apart.length > 1 ? apart.map((name) => ({ name, recipe: ofColumn(recipe, name) })) : [];
}

/** The same table once for each value of a tag, with the rows, or the columns, that have it. */
export function valuesApart(
  recipe: Recipe,
  tag: string,
  values: readonly string[],
  columns: readonly string[],
): readonly TablePart[] {
  if (values.length < 2) return [];
  const { shape } = recipe;
  if (ofColumns(shape) || (shape.kind === 'crossed' && shape.column_tag === tag)) {
    const known = shape.kind === 'down' ? shape.tag : shape.kind === 'crossed' ? shape.column_tag : null;
    if (known !== tag) return [];
    // A tag takes the header without the number that tells equal ones apart.
    const labelled = (value: string) =>
      columns.filter((column) => partOf(recipe, column) === 'reading' && column.replace(/#\d+$/, '') === value);
    return values.map((value) => ({ name: value, recipe: withValues(recipe, labelled(value)) }));
  }
  const column = shape.kind === 'crossed' && shape.row_tag === tag ? shape.rows : recipe.tags?.[tag];
  if (column === undefined) return [];
  return values.map((value) => ({
    name: value,
    recipe: { ...recipe, where: [...(recipe.where ?? []), { column, is: [value] }] },
  }));
}

function withValues(recipe: Recipe, values: readonly string[]): Recipe {
  const { shape } = recipe;
  return shape.kind === 'down' || shape.kind === 'crossed' ? { ...recipe, shape: { ...shape, values } } : recipe;
}

/** The same table, of which one column is read: each row is a sample of one reading. */
export function ofColumn(recipe: Recipe, column: string): Recipe {
  return { ...recipe, shape: { kind: 'across', values: [column] } };
}

/** What a column is for. */
export function partOf(recipe: Recipe, column: string): Part {
  const { shape } = recipe;
  if (recipe.time?.column === column) return 'time';
  if (Object.values(recipe.tags ?? {}).includes(column)) return 'tag';
  if (shape.kind === 'grouped' && shape.by.includes(column)) return 'groups';
  if (shape.kind === 'crossed' && shape.rows === column) return 'label';
  if (shape.kind === 'counts') {
    if (shape.count === column) return 'count';
    if (shape.inspected === column) return 'inspected';
    return Object.values(shape.kinds ?? {}).includes(column) ? 'kind' : 'left_out';
  }
  const all = readings(shape);
  if (all?.includes(column)) return 'reading';
  // Where none is named, all that stand nowhere else are meant.
  const filtered = recipe.where?.some((filter) => filter.column === column) === true;
  return all === null && !filtered ? 'reading' : 'left_out';
}

/** Parts that a column can be given in a shape. */
export function partsOf({ shape }: Recipe): readonly Part[] {
  const beside: Part[] = ofColumns(shape) ? [] : ['time', 'tag'];
  switch (shape.kind) {
    case 'grouped':
      return ['reading', 'groups', ...beside, 'left_out'];
    case 'crossed':
      return ['reading', 'label', ...beside, 'left_out'];
    case 'counts':
      return ['count', 'inspected', 'kind', ...beside, 'left_out'];
    default:
      return ['reading', ...beside, 'left_out'];
  }
}

/** The recipe with a column for something else; `columns` are all there are, in their order. */
export function withPart(recipe: Recipe, column: string, part: Part, columns: readonly string[]): Recipe {
  const free = without(recipe, column, columns);
  const { shape } = free;
  switch (part) {
    case 'time':
      return { ...free, time: { column, format: recipe.time?.format ?? usualFormat(recipe.read) } };
    case 'tag':
      return { ...free, tags: { ...free.tags, [column.replace(/#\d+$/, '').toLowerCase() || column]: column } };
    case 'reading':
      return { ...free, shape: withReading(shape, column, columns) };
    case 'groups':
      return shape.kind === 'grouped' ? { ...free, shape: { ...shape, by: [...shape.by, column] } } : free;
    case 'label':
      return shape.kind === 'crossed' ? { ...free, shape: { ...shape, rows: column } } : free;
    case 'count':
      return shape.kind === 'counts' ? { ...free, shape: { ...shape, count: column, kinds: null } } : free;
    case 'inspected':
      return shape.kind === 'counts' ? { ...free, shape: { ...shape, inspected: column } } : free;
    case 'kind':
      return shape.kind === 'counts'
        ? { ...free, shape: { ...shape, count: null, kinds: { ...shape.kinds, [column]: column } } }
        : free;
    case 'left_out':
      return free;
  }
}

function withReading(shape: Shape, column: string, columns: readonly string[]): Shape {
  const inOrder = (all: readonly string[]) => columns.filter((name) => all.includes(name) || name === column);
  switch (shape.kind) {
    case 'across':
      return { ...shape, values: inOrder(shape.values) };
    case 'down':
    case 'crossed':
      return { ...shape, values: inOrder(shape.values ?? []) };
    case 'column':
    case 'grouped':
    case 'period':
      return { ...shape, value: column };
    case 'counts':
      return shape;
  }
}

/** The recipe with a column that is for nothing. */
function without(recipe: Recipe, column: string, columns: readonly string[]): Recipe {
  const tags = Object.fromEntries(Object.entries(recipe.tags ?? {}).filter(([, name]) => name !== column));
  const time = recipe.time?.column === column ? null : recipe.time;
  const other = (all: readonly string[]) => all.filter((name) => name !== column);
  const { shape } = recipe;
  const left = { ...recipe, tags, ...(time === undefined ? {} : { time }) };
  switch (shape.kind) {
    case 'across':
      return { ...left, shape: { ...shape, values: other(shape.values) } };
    case 'down':
    case 'crossed': {
      const named = shape.values ?? columns.filter((name) => partOf(recipe, name) === 'reading');
      return { ...left, shape: { ...shape, values: other(named) } };
    }
    case 'grouped':
      return { ...left, shape: { ...shape, by: other(shape.by) } };
    case 'counts':
      return {
        ...left,
        shape: {
          ...shape,
          count: shape.count === column ? null : (shape.count ?? null),
          inspected: shape.inspected === column ? null : (shape.inspected ?? null),
          kinds:
            shape.kinds == null
              ? null
              : Object.fromEntries(Object.entries(shape.kinds).filter(([, name]) => name !== column)),
        },
      };
    case 'column':
    case 'period':
      return left;
  }
}

/** The recipe in another shape, with what columns are for kept as far as it has a place there. */
export function withKind(recipe: Recipe, kind: Kind, columns: readonly string[]): Recipe {
  const is = (part: Part) => columns.filter((column) => partOf(recipe, column) === part);
  const used = [...is('reading'), ...is('count'), ...is('kind')];
  const value = used[0] ?? columns[columns.length - 1] ?? '#1';
  const others = columns.filter((column) => !used.includes(column));
  const label = others.find((column) => partOf(recipe, column) !== 'time') ?? others[0] ?? columns[0] ?? '#1';
  const of = (shape: Shape): Recipe => ({ ...recipe, shape });
  switch (kind) {
    case 'across':
      return of({ kind, values: used.length > 0 ? used : [value] });
    case 'down':
      return { ...of({ kind, values: null, tag: 'column' }), time: null, tags: null };
    case 'column':
      return of({ kind, value, size: 5 });
    case 'grouped':
      return withoutTag(of({ kind, value, by: [label] }), label);
    case 'crossed': {
      const crossed: Shape = { kind, rows: label, values: null, row_tag: 'row', column_tag: 'column', sample: 'cell' };
      return withoutTag(of(crossed), label);
    }
    case 'counts':
      return of({ kind, count: value });
    case 'period':
      return of({ kind, value, per: 'day', how: 'mean' });
  }
}

/** What groups rows is told by the group itself. */
function withoutTag(recipe: Recipe, column: string): Recipe {
  const tags = Object.entries(recipe.tags ?? {}).filter(([, name]) => name !== column);
  return { ...recipe, tags: Object.fromEntries(tags) };
}

/** Cells of a sheet may be dates; a text has to say how it is written. */
const usualFormat = ({ format }: Read) => (format === 'xlsx' || format === 'ods' ? null : '%Y-%m-%d %H:%M');

/** Names of the tags that samples get, those from labels too. */
export function tagsOf({ shape, tags }: Recipe): string[] {
  const labels = (() => {
    if (shape.kind === 'down') return shape.tag == null ? [] : [shape.tag];
    if (shape.kind !== 'crossed') return [];
    const { sample, row_tag: row, column_tag: column } = shape;
    return sample === 'cell' ? [row, column] : [sample === 'row' ? row : column];
  })();
  return [...labels, ...Object.keys(tags ?? {})];
}

/** The recipe with a tag under another name. */
export function withTagNamed(recipe: Recipe, tag: string, name: string): Recipe {
  const now = (known: string) => (known === tag ? name : known);
  const { shape } = recipe;
  const tags = Object.entries(recipe.tags ?? {}).map(([known, column]) => [now(known), column] as const);
  const renamed = recipe.tags == null ? recipe : { ...recipe, tags: Object.fromEntries(tags) };
  if (shape.kind === 'down' && shape.tag != null) return { ...renamed, shape: { ...shape, tag: now(shape.tag) } };
  if (shape.kind !== 'crossed') return renamed;
  return { ...renamed, shape: { ...shape, row_tag: now(shape.row_tag), column_tag: now(shape.column_tag) } };
}

/** The recipe with its tags named as they are asked for, as far as their names begin alike. */
export function withTagsAsked(recipe: Recipe, asked: readonly string[]): Recipe {
  return tagsOf(recipe).reduce((now, tag) => {
    if (asked.includes(tag)) return now;
    const free = asked.filter((name) => !tagsOf(now).includes(name));
    const like = free.find((name) => alike(name.toLowerCase(), tag.toLowerCase()));
    return like === undefined ? now : withTagNamed(now, tag, like);
  }, recipe);
}

const alike = (one: string, other: string) => one.startsWith(other) || other.startsWith(one);
