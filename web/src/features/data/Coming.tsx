import { Link } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { ImportView } from '../../api/client';
import { queries } from '../../api/queries';
import { Notice } from '../../ui/Notice';
import { DATA } from '../../words/data';
import { Progress } from './Progress';

const KIND = {
  staged: 'underWay',
  waiting: 'underWay',
  done: 'settled',
  cancelled: 'caution',
  failed: 'problem',
} as const satisfies Record<ImportView['state'], string>;

/** Samples that come into a characteristic: how far they are, and the way to their chart. */
export function Coming({ id, into, name }: { id: string; into: string; name?: string }) {
  const query = useQuery(queries.import(id));
  return (
    <Notice kind={query.data === undefined ? 'underWay' : KIND[query.data.state]}>
      {name !== undefined && `${name}: `}
      <Progress id={id} />{' '}
      <Link component={RouterLink} to={`/charts/${into}`}>
        {DATA.toChart}
      </Link>
    </Notice>
  );
}
