// npm start and npm run demo: install what is missing, build when the source has changed, then serve in this same process.
import { build, isBuilt } from './build.mjs';
import { installPackages } from './install.mjs';

const isDemo = process.argv.includes('--demo');
installPackages({ forRunning: true });
if (!isBuilt()) {
  console.log('Building…');
  build();
}
process.env.NODE_ENV = 'production';
process.env.DATABASE_URL ||= isDemo ? 'file:demo-data/demo.db' : 'file:data/just-twice.db';
await import('../dist/serve.mjs');
