import { Box, Button, Drawer, IconButton, Tooltip } from '@mui/material';
import { useActs } from '../commands/acts';
import { usePop } from '../kit/focus';
import { isAtLeast, useWidth } from '../kit/width';
import { useLooking, useOpened } from '../opened/opened';
import { MyMenu } from '../people/MyMenu';
import { PostLink } from '../kit/PostLink';
import { Here } from '../presence/Here';
import { FlowMenu } from '../reviewing/FlowMenu';
import { LensMenu } from '../reviewing/LensMenu';
import { Readings } from '../reviewing/Readings';
import { WordCount } from '../reviewing/WordCount';
import { TakeAway } from '../sheet/tools/TakeAway';
import { PageLinks } from './PageLinks';
import { useNoMargin } from './use-no-margin';

/** What the bar and the row of tools have no room for, behind one button. */
export function Folded({ laid }: { laid: boolean }) {
  const { at, open, close, props, transition } = usePop();
  const { anchorEl: _, ...drawer } = props;
  const { info, me, may, text: live } = useOpened();
  const { page } = useLooking();
  const acts = useActs();
  const width = useWidth();
  const noMargin = useNoMargin();
  const act = (id: string) => () => acts.choose(id, close);
  const quiet = { fontWeight: 400, color: 'text.secondary', justifyContent: 'flex-start' };
  const text = page === 'text';
  return (
    <>
      <Tooltip title="What this window has no room for">
        <IconButton aria-label="More" aria-haspopup="dialog" aria-expanded={!!at} onClick={open}>
          <Box component="span" aria-hidden sx={{ width: 24, height: 24, fontSize: 18, lineHeight: '24px' }}>
            ≡
          </Box>
        </IconButton>
      </Tooltip>
      <Drawer
        anchor="right"
        {...drawer}
        // What it holds answers to its keys while it is closed too.
        keepMounted
        slotProps={{ transition, paper: { 'aria-label': 'More', role: 'dialog', className: 'folded' } }}
      >
        {!isAtLeast(width, 'middle') && (
          <nav aria-label="Of this manuscript" className="folded-part" onClick={() => close()}>
            <PageLinks />
          </nav>
        )}
        {text && (
          <div className="folded-part">
            <Readings />
            {laid && noMargin && <FlowMenu />}
          </div>
        )}
        <div className="folded-part">
          {laid && width === 'phone' && <LensMenu />}
          {may.ink && (
            <Button color="inherit" sx={quiet} onClick={act('ink once')}>
              Ink for one edit
            </Button>
          )}
          {text && laid && may.takeAway && noMargin && <TakeAway />}
          {at && text && laid && !isAtLeast(width, 'middle') && <WordCount state={live.snapshot().state!} />}
          <Button color="inherit" sx={quiet} onClick={act('last look')}>
            Last look beside the text
          </Button>
          <Button color="inherit" sx={quiet} onClick={act('keys')}>
            Keys
          </Button>
        </div>
        <div className="folded-part folded-people">
          <Here />
          {!isAtLeast(width, 'middle') && (
            <>
              {!me.guest && <PostLink />}
              <MyMenu me={me} hue={info.people.find(({ id }) => id === me.id)?.hue} />
            </>
          )}
        </div>
      </Drawer>
    </>
  );
}
