import { describe, expect, it } from 'vitest';
import {
  columnsApart,
  partOf,
  type Recipe,
  withKind,
  withPart,
  tagsOf,
  valuesApart,
  withTagNamed,
  withTagsAsked,
} from './recipe';

const COLUMNS = ['taken', 'lot', 'x1', 'x2', 'note'];

const across: Recipe = {
  read: { format: 'csv' },
  shape: { kind: 'across', values: ['x1', 'x2'] },
  time: { column: 'taken', format: '%Y-%m-%d' },
  tags: { lot: 'lot' },
};

const parts = (recipe: Recipe) => COLUMNS.map((column) => partOf(recipe, column));

describe('what columns are for', () => {
  it('is read from a recipe', () => {
    expect(parts(across)).toEqual(['time', 'tag', 'reading', 'reading', 'left_out']);
    expect(parts({ read: { format: 'csv' }, shape: { kind: 'down' } })).toEqual(COLUMNS.map(() => 'reading'));
  });

  it('may be one characteristic each', () => {
    expect(columnsApart(across, COLUMNS).map(({ name }) => name)).toEqual(['x1', 'x2', 'note']);
    const note = columnsApart(across, COLUMNS)[2]?.recipe;
    expect(note).toEqual({ ...across, shape: { kind: 'across', values: ['note'] } });
    expect(columnsApart({ ...across, shape: { kind: 'across', values: ['x1'] } }, ['taken', 'lot', 'x1'])).toEqual([]);
    expect(columnsApart({ read: { format: 'csv' }, shape: { kind: 'down' } }, COLUMNS)).toEqual([]);
  });

  it('comes apart by the values of a tag, whatever else narrows the rows', () => {
    const narrowed: Recipe = { ...across, where: [{ column: 'note', is: ['ok'] }] };
    expect(valuesApart(narrowed, 'lot', ['A', 'B'], COLUMNS).map(({ name, recipe }) => [name, recipe.where])).toEqual([
      [
        'A',
        [
          { column: 'note', is: ['ok'] },
          { column: 'lot', is: ['A'] },
        ],
      ],
      [
        'B',
        [
          { column: 'note', is: ['ok'] },
          { column: 'lot', is: ['B'] },
        ],
      ],
    ]);
    expect(valuesApart(across, 'lot', ['A'], COLUMNS)).toEqual([]);
    expect(valuesApart(across, 'crew', ['A', 'B'], COLUMNS)).toEqual([]);
  });

  it('may be one characteristic for each label of a row or of a column', () => {
    const columns = ['hour', 'K1', 'K2', 'K1#2'];
    const crossed: Recipe = {
      read: { format: 'csv' },
      shape: { kind: 'crossed', rows: 'hour', row_tag: 'hour', column_tag: 'kiln', sample: 'cell' },
    };
    const of = (recipe: Recipe, tag: string, values: string[]) =>
      valuesApart(recipe, tag, values, columns).map(({ recipe: { shape, where } }) => [
        'values' in shape ? shape.values : null,
        where,
      ]);
    expect(of(crossed, 'kiln', ['K1', 'K2'])).toEqual([
      [['K1', 'K1#2'], undefined],
      [['K2'], undefined],
    ]);
    expect(of(crossed, 'hour', ['6', '7'])).toEqual([
      [null, [{ column: 'hour', is: ['6'] }]],
      [null, [{ column: 'hour', is: ['7'] }]],
    ]);
    const down: Recipe = { read: { format: 'csv' }, shape: { kind: 'down', values: columns, tag: 'kiln' } };
    expect(of(down, 'kiln', ['K1', 'K2'])).toEqual([
      [['K1', 'K1#2'], undefined],
      [['K2'], undefined],
    ]);
    expect(of(down, 'hour', ['6', '7'])).toEqual([]);
  });

  it('moves with its mark', () => {
    const moved = withPart(across, 'note', 'time', COLUMNS);
    expect(parts(moved)).toEqual(['left_out', 'tag', 'reading', 'reading', 'time']);
    expect(moved.time).toEqual({ column: 'note', format: '%Y-%m-%d' });
    expect(parts(withPart(across, 'x2', 'left_out', COLUMNS))).toEqual([
      'time',
      'tag',
      'reading',
      'left_out',
      'left_out',
    ]);
  });

  it('puts readings in the order of the sheet', () => {
    const without = withPart(across, 'x1', 'left_out', COLUMNS);
    const again = withPart(without, 'x1', 'reading', COLUMNS);
    expect(again.shape).toEqual({ kind: 'across', values: ['x1', 'x2'] });
  });

  it('names all but one where none was named', () => {
    const down: Recipe = { read: { format: 'csv' }, shape: { kind: 'down', values: null } };
    const left = withPart(down, 'note', 'left_out', COLUMNS);
    expect(left.shape).toMatchObject({ values: ['taken', 'lot', 'x1', 'x2'] });
  });

  it('gives a tag the name of its column without the number of equal ones', () => {
    expect(withPart(across, 'note#2', 'tag', [...COLUMNS, 'note#2']).tags).toEqual({ lot: 'lot', note: 'note#2' });
  });
});

describe('another shape', () => {
  it('keeps readings, times and tags that have a place in it', () => {
    const grouped = withKind(across, 'grouped', COLUMNS);
    expect(grouped.shape).toEqual({ kind: 'grouped', value: 'x1', by: ['lot'] });
    expect(partOf(grouped, 'lot')).toBe('groups');
    expect(grouped.time).toEqual(across.time);
    const counts = withKind(across, 'counts', COLUMNS);
    expect(counts.shape).toEqual({ kind: 'counts', count: 'x1' });
    expect(withPart(counts, 'x2', 'inspected', COLUMNS).shape).toMatchObject({ count: 'x1', inspected: 'x2' });
  });

  it('takes no time and no tags where a column is a sample', () => {
    const down = withKind(across, 'down', COLUMNS);
    expect([down.time, down.tags]).toEqual([null, null]);
  });

  it('goes from kinds to one count and back', () => {
    const kinds = withPart(withKind(across, 'counts', COLUMNS), 'x2', 'kind', COLUMNS);
    expect(kinds.shape).toMatchObject({ count: null, kinds: { x2: 'x2' } });
    expect(withPart(kinds, 'x1', 'count', COLUMNS).shape).toMatchObject({ count: 'x1', kinds: null });
  });
});

describe('tags', () => {
  const named: Recipe = { ...across, tags: { 'lot no.': 'lot', operator: 'note' } };

  it('take the names that are asked for where they begin alike', () => {
    expect(withTagsAsked(named, ['lot', 'cavity']).tags).toEqual({ lot: 'lot', operator: 'note' });
    expect(withTagsAsked({ ...named, tags: { lot: 'lot', 'lot no.': 'note' } }, ['lot']).tags).toEqual({
      lot: 'lot',
      'lot no.': 'note',
    });
  });

  it('are named otherwise by hand, those from labels too', () => {
    expect(withTagNamed(named, 'operator', 'cavity').tags).toEqual({ 'lot no.': 'lot', cavity: 'note' });
    const crossed = withKind(across, 'crossed', COLUMNS);
    expect(tagsOf(crossed)).toEqual(['row', 'column']);
    expect(tagsOf(withTagNamed(crossed, 'row', 'lot'))).toEqual(['lot', 'column']);
    expect(tagsOf(withKind(across, 'down', COLUMNS))).toEqual(['column']);
  });
});
