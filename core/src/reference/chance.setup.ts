/** Random tests take the same cases every time in `npm test`, so that a change is what breaks it; `npm run soak` takes new ones. */
import fc from 'fast-check';

if (process.env.KERBE_SOAK === undefined) fc.configureGlobal({ seed: 1897 });
