import { chromium } from 'playwright';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu'] });
const page = await b.newPage({ viewport: { width: 1280, height: 800 } });
const url='http://127.0.0.1:4555';
await page.context().addCookies([{name:'person',value:encodeURIComponent('Maud Ellery'),url}]);
const errors=[]; page.on('console',m=>m.type()==='error'&&errors.push(m.text()));
for (const [name,path] of JSON.parse(process.argv[2])) { await page.goto(url+path); await page.waitForTimeout(1500); await page.screenshot({path:`/tmp/x/${name}.png`}); }
console.log(errors.slice(0,5)); await b.close();
