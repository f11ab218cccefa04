import { Box, Link, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { ImportView } from '../../api/client';
import { queries } from '../../api/queries';
import { Empty, Loaded } from '../../ui/States';
import { cameOf, DATA, HAND_OUT } from '../../words/data';
import { when } from '../../words/time';
import { DropZone } from './DropZone';
import { FolderTables } from './FolderTables';
import { Progress } from './Progress';

/** Tables come in here, and what came of them is listed. */
export default function DataPage() {
  const imports = useQuery(queries.imports);
  return (
    <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
      <Typography variant="h1">{DATA.title}</Typography>
      <DropZone />
      <Link component={RouterLink} to="/data/out" sx={{ display: 'inline-block', minHeight: 48, lineHeight: '48px' }}>
        {HAND_OUT.open}
      </Link>
      <FolderTables />
      <Typography variant="h2" id="history">
        {DATA.history}
      </Typography>
      <Loaded query={imports} what={DATA.what}>
        {(all) => (all.length === 0 ? <Empty>{DATA.none}</Empty> : <History all={all} />)}
      </Loaded>
    </Box>
  );
}

function History({ all }: { all: readonly ImportView[] }) {
  const { at, file, into, came, who } = DATA.columns;
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="region" aria-labelledby="history">
      <Table size="small" aria-labelledby="history">
        <TableHead>
          <TableRow>
            {[at, file, into, came, who].map((name) => (
              <TableCell key={name}>{name}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {all.map((it) => (
            <TableRow key={it.id}>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{when(it.at)}</TableCell>
              <TableCell sx={{ overflowWrap: 'anywhere' }} title={DATA.digest(it.file_digest)}>
                {it.file_name}
              </TableCell>
              <TableCell>
                <Link component={RouterLink} to={`/charts/${it.characteristic}`}>
                  {it.into}
                </Link>
              </TableCell>
              <TableCell>
                {it.state === 'waiting' || it.state === 'staged' ? <Progress id={it.id} /> : cameOf(it)}
              </TableCell>
              <TableCell>{it.person_name}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}
