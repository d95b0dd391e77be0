// One command line after the other in one process, as main() takes them: for the mutants, of which there are thousands.
import { pathToFileURL } from 'node:url';

const { main } = await import(pathToFileURL(process.argv[2]).href);
let said = '';
process.stdout.write = (text) => {
  said += text;
  return true;
};
process.stderr.write = (text) => {
  said += text;
  return true;
};
process.on('message', async (args) => {
  said = '';
  let code;
  try {
    code = await main(args);
  } catch (error) {
    said += error.stack;
    code = -1;
  }
  process.send({ code, said: said.slice(0, 4000) });
});
process.send('ready');
