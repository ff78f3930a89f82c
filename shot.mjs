import { chromium } from '@playwright/test';
const [,, ...args] = process.argv;
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const c = await b.newContext({ viewport: { width: 1280, height: 800 } });
await c.addCookies([{ name: 'person', value: encodeURIComponent('Maud Ellery'), url: 'http://127.0.0.1:4977' }]);
const p = await c.newPage();
p.on('pageerror', (e) => console.log('PAGEERROR', e.message.slice(0, 300)));
p.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text().slice(0, 300)));
for (const a of args) { const [path, name] = a.split('='); await p.goto('http://127.0.0.1:4977' + path, { waitUntil: 'networkidle' }); await p.waitForTimeout(400); await p.screenshot({ path: `/tmp/${name}.png` }); }
await b.close();
