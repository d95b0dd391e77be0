/** `kerbe`: plan, read and prove jobs without a browser. Each command loads only what it needs. */
import { Refusal } from './refusal.ts';
import { fontSource } from './fonts.ts';

const HELP = `kerbe - from drawing to programs, without a browser

  kerbe new --board WxHxT [--units mm|in] (--text "WORDS" --face NAME --height H | --art FILE.svg)
            --cut vcarve,pocket,profile,drill,engrave,drag,recess,plug,chamfer,surface
            --bit v:ANGLE:DIAMETER[:TIP],end:DIAMETER,ball:DIAMETER,drill:DIAMETER,drag:LINE,
                  tapered:ANGLE:DIAMETER:rRADIUS,engraving:ANGLE:DIAMETER:TIP,surfacing:DIAMETER
            [--outline WxH[:rR]] [--set cuts.0.floorDepth=3 ...] --out job.json
  kerbe new --machine torch --board WxHxT|WxHxGAUGEga --art FILE.svg --cut torch [--nozzle 45] --out job.json
            [--set cuts.0.kerf=1.5 --set cuts.0.side=auto|outside|inside|on --set cuts.0.leadIn=3 ...]
  kerbe new --machine laser --board WxHxT (--art FILE.svg | --text … | --picture FILE.png --picture-width W) [--watts 10]
            --cut laser-cut,laser-score,laser-fill,laser-picture [--set cuts.0.power=30 --set cuts.0.interval=0.1 ...] --out job.json
  kerbe card --board WxHxT --out card.json   a test card for a laser: power down the side, speed along the bottom
            [--vary power-speed|lines|focus|kerf] [--rows 5] [--columns 5] [--power 10-80] [--speed 600-6000] [--watts 10]
  kerbe plan job.json --out DIR        programs and report.json; exit 2 when a finding forbids cutting
            [--split tool|pauses]       one program for each bit, or one for all; as the job says when left out
  kerbe nest job.json --out other.json  its pieces laid out on the board, and where they are, as JSON; exit 2 when one finds no room
            [--copies 4 | --copies ID=4 ...] [--gap MM] [--margin MM] [--turn 0|180|90|45] [--rounds N] [--seed N]
  kerbe read FILE.nc                   what a program amounts to, as JSON
  kerbe proof job.json --at X,Y ...    carved depth at points (mm from the board's lower-left corner)
              [--png FILE] [--stl FILE] [--cell MM]
              [--burn FILE]            of a laser job: what the beam leaves, as a picture and as JSON
              [--pieces]               of a torch job: what is free, held, tips or falls, as JSON
              [--diff]                 what was asked against what would be carved, as JSON
              [--diff-png FILE]        where: left standing in stripes, over-cut solid
  kerbe advise job.json                where the time goes, what would be faster, whether it shows, as JSON
              [--cut ID [--bit v:90:19,...] [--sizes]]   bits tried on a cut: those given, and usual sizes
  kerbe pair job.json --cut ID --out other.json   the job of the other half: plug, recess or inlay
              [--glue MM] [--saw MM]
  kerbe import FILE --out drawing.json SVG, DXF, PNG, JPEG, BMP or WebP to a job document
              [--unit mm|in|px|pt|cm] [--width W] [--join GAP] [--threshold 0-255]
  kerbe check drawing.json             findings of the artwork, as JSON; exit 2 when one forbids cutting
  kerbe export job.json [--svg FILE] [--dxf FILE] [--pdf FILE --paper a4|a3|letter|tabloid]
  kerbe schema [--cuts]                JSON Schema of the job document, or the table of its cuts
  kerbe faces                          the faces that ship with Kerbe
`;

/** Runs a command line and returns its exit code: 0 done, 1 refused, 2 a finding forbids cutting. */
export async function main(args: string[]): Promise<number> {
  const [command, ...rest] = args;
  try {
    switch (command) {
      case 'new':
        return await (await import('./new.ts')).newCommand(rest);
      case 'plan':
        return await (await import('./plan.ts')).planCommand(rest, fontSource);
      case 'pair':
        return await (await import('./pair.ts')).pairCommand(rest);
      case 'read':
        return await (await import('./read.ts')).readCommand(rest);
      case 'card':
        return await (await import('./card.ts')).cardCommand(rest);
      case 'nest':
        return await (await import('./nest.ts')).nestCommand(rest, fontSource);
      case 'proof':
        return await (await import('./proof.ts')).proofCommand(rest, fontSource);
      case 'advise':
        return await (await import('./advise.ts')).adviseCommand(rest, fontSource);
      case 'import':
        return await (await import('./artwork.ts')).importCommand(rest);
      case 'check':
        return await (await import('./artwork.ts')).checkCommand(rest, fontSource);
      case 'export':
        return await (await import('./artwork.ts')).exportCommand(rest, fontSource);
      case 'schema': {
        const [{ jobSchema }, { kindTable }] = await Promise.all([import('@kerbe/core/job'), import('@kerbe/core/cuts')]);
        process.stdout.write((rest.includes('--cuts') ? kindTable() : JSON.stringify(jobSchema(), null, 2)) + '\n');
        return 0;
      }
      case 'faces': {
        const { FACES } = await import('@kerbe/core/artwork/faces');
        for (const face of FACES) process.stdout.write(`${face.id.padEnd(10)} ${face.style.padEnd(10)} ${face.name}\n`);
        return 0;
      }
      case undefined:
      case 'help':
      case '--help':
      case '-h':
        process.stdout.write(HELP);
        return command ? 0 : 1;
      default:
        throw new Refusal(`There is no command “${command}”. Try: kerbe help`);
    }
  } catch (error) {
    const code = (error as { code?: string }).code;
    if (error instanceof Refusal || code?.startsWith('ERR_PARSE_ARGS') || code === 'ENOENT' || code === 'EACCES' || code === 'EISDIR' || code === 'ENOSPC') {
      process.stderr.write(`kerbe: ${(error as Error).message}\n`);
      return 1;
    }
    if (process.env.KERBE_DEBUG) throw error;
    process.stderr.write(
      `kerbe: something went wrong here that is not the fault of whoever typed it: ${(error as Error).message}. The files named are as they were. KERBE_DEBUG=1 shows where it was.\n`,
    );
    return 1;
  }
}
