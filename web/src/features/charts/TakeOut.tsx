import { Button, Menu, MenuItem, useTheme } from '@mui/material';
import { type RefObject, useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { ChartView, Stretch } from '../../api/chart';
import type { ChartModel } from '../../chart/model';
import type { Window } from '../../plot/places';
import { Notice } from '../../ui/Notice';
import { OUT } from '../../words/out';
import { scalesForLink, stretchIn } from './address';
import { asPng, asSvg, fileName, handOut } from './takeOut';

interface Props {
  view: ChartView;
  model: ChartModel;
  address: URLSearchParams;
  close: Window | null;
  /** Where the chart is drawn. */
  drawn: RefObject<HTMLElement | null>;
}

/** What is seen, to take along: a link, a picture, the points, paper. */
export function TakeOut({ view, model, address, close, drawn }: Props) {
  const { ink } = useTheme();
  const [opener, setOpener] = useState<HTMLElement | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const { id, name } = view.characteristic;
  const end = () => setOpener(null);
  const picture = async (ending: 'svg' | 'png') => {
    end();
    const svg = drawn.current?.querySelector<SVGSVGElement>('svg[role="group"]');
    if (!svg) return;
    const content =
      ending === 'svg' ? new Blob([asSvg(svg, ink.ground)], { type: 'image/svg+xml' }) : await asPng(svg, ink.ground);
    handOut(fileName(name, ending), content);
  };
  const copy = async () => {
    end();
    const link = new URL(window.location.href);
    link.searchParams.set('scale', scalesForLink(address.get('scale'), view.characteristic.scales));
    try {
      await navigator.clipboard.writeText(link.href);
      setTold(OUT.copied);
    } catch {
      // Where a page may not write there, the link is shown to be taken by hand.
      setTold(link.href);
    }
  };
  const table = (ending: 'csv' | 'xlsx') => {
    const asked = new URLSearchParams();
    const seen = { ...stretchIn(address), ...(close === null ? {} : numbersOf(model, close)) };
    for (const [part, value] of Object.entries(seen)) if (value != null) asked.set(part, String(value));
    return `/api/characteristics/${id}/chart.${ending}?${asked.toString()}`;
  };
  return (
    <>
      <Button color="inherit" aria-haspopup="menu" onClick={(event) => setOpener(event.currentTarget)}>
        {OUT.open}
      </Button>
      <Menu anchorEl={opener} open={opener !== null} onClose={end}>
        <MenuItem onClick={() => void copy()}>{OUT.link}</MenuItem>
        <MenuItem onClick={() => void picture('svg')}>{OUT.svg}</MenuItem>
        <MenuItem onClick={() => void picture('png')}>{OUT.png}</MenuItem>
        <MenuItem component="a" href={table('csv')} download onClick={end}>
          {OUT.csv}
        </MenuItem>
        <MenuItem component="a" href={table('xlsx')} download onClick={end}>
          {OUT.xlsx}
        </MenuItem>
        <MenuItem
          onClick={() => {
            end();
            // Once the menu is gone from the page.
            window.setTimeout(() => window.print(), 300);
          }}
        >
          {OUT.print}
        </MenuItem>
        <MenuItem component={RouterLink} to={`/data/out?of=${id}`}>
          {OUT.shape}
        </MenuItem>
        <MenuItem component={RouterLink} to={`/charts/${id}/paper`}>
          {OUT.paper}
        </MenuItem>
      </Menu>
      {told !== null && <Notice kind="settled">{told}</Notice>}
    </>
  );
}

/** The samples between which it is looked at closely. */
function numbersOf({ place, number }: ChartModel, { from, to }: Window): Pick<Stretch, 'from' | 'to'> {
  const first = place.findIndex((at) => at >= from);
  const last = place.findLastIndex((at) => at <= to);
  const [begin, end] = [number[first], number[last]];
  return begin === undefined || end === undefined ? {} : { from: begin, to: end };
}
