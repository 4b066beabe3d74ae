import { chromium } from '@playwright/test';
const [,, out, url, size='1280x800', scheme='light', ...acts] = process.argv;
const [w,h]=size.split('x').map(Number);
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox','--disable-gpu','--disable-background-networking','--disable-component-update','--disable-sync']});
const c=await b.newContext({viewport:{width:w,height:h},colorScheme:scheme,serviceWorkers:'block'});
const p=await c.newPage();
p.on('console',m=>{ if(m.type()==='error') console.log('console:',m.text())});
p.on('pageerror',e=>console.log('pageerror:',e.message));
await p.addInitScript(()=>{localStorage.setItem('person-id','edda');localStorage.setItem('person-name','Edda');});
await p.goto('http://127.0.0.1:7500'+url,{waitUntil:'networkidle'}).catch(e=>console.log(e.message));
await p.waitForTimeout(500);
for(const a of acts){ const [k,v]=[a.slice(0,a.indexOf(':')),a.slice(a.indexOf(':')+1)]; if(k==='key') await p.keyboard.press(v); else if(k==='type') await p.keyboard.type(v); else if(k==='click') await p.click(v); else if(k==='wait') await p.waitForTimeout(+v); else if(k==='full'){} }
await p.waitForTimeout(400);
await p.screenshot({path:out, fullPage: acts.includes('full:')});
await b.close();
