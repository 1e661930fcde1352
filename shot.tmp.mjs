import { spawn } from 'node:child_process';
import { chromium } from '@playwright/test';
import { mkdirSync } from 'node:fs';
mkdirSync('/tmp/shots',{recursive:true});
const port=4393; const server=spawn(process.execPath,['dist/server/index.js'],{env:{...process.env,PORT:String(port)},stdio:['ignore','pipe','inherit']});
await new Promise(d=>server.stdout.once('data',d));
const browser=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox','--disable-gpu']});
const page=await (await browser.newContext({viewport:{width:1280,height:800}})).newPage();
page.on('console',m=>m.type()==='error'&&console.log('console:',m.text().slice(0,300))); page.on('pageerror',e=>console.log('pageerror:',e.message.slice(0,300)));
await page.goto(`http://localhost:${port}/start`); await page.getByRole('button',{name:'Use the demo pairs'}).click(); await page.waitForURL(/\/pair\//);
const go=async(path)=>{await page.evaluate(p=>{history.pushState(null,'',p);dispatchEvent(new PopStateEvent('popstate'));},path); await page.waitForTimeout(400);};
const made=()=>page.getByText('(estimate)').waitFor({state:'attached',timeout:60000});
const plan=async(pair,stop,kind)=>{await go(`/pair/${pair}/stop/${stop}`); const r=page.getByLabel('Why go here first?'); if(await r.count()) await r.fill('known from another spool'); await page.getByRole('button',{name:'Plan: '+kind,exact:true}).click(); await page.waitForURL(/\/trial\//); await made(); await page.waitForTimeout(300);};
const stage=async(s)=>{await page.locator('nav[aria-label="Stages"]').getByRole('button',{name:s}).click(); await page.waitForTimeout(500);};
const shot=async(n)=>{await page.screenshot({path:`/tmp/shots/${n}.png`}); console.log(n);};
const ctx={page,go,made,plan,stage,shot};
const mod=await import(process.argv[2]); 
try { await mod.default(ctx);} catch(e){console.log('FAIL',e.message.slice(0,600)); await shot('fail');}
await browser.close(); server.kill();
