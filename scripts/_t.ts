import { gripShape, tillerShape, bracketShape, heelButtonShape } from '@/core/scan/shapes'
import { checkUp } from '@/core/mend/check-up'
import { gripScan } from '@/demo/scenario'
import { mendAll } from '@/core/mend/mend-all'
const show=(n:string,m:any)=>{const {holes,...f}=checkUp(m).facts; console.log(n,JSON.stringify(f),holes.length)}
show('grip',gripShape());show('tiller',tillerShape());show('bracket',await bracketShape());show('heel',await heelButtonShape())
if(process.argv[2]){let t=performance.now();const g=gripScan();console.log('scan',performance.now()-t);show('scan',g);t=performance.now()
console.log(checkUp(g).facts.holes.slice(0,12))
const r=mendAll(g,{speckShare:0.01,fill:'smooth'},{progress:(s,p)=>process.env.V&&(p!==(globalThis as any).L)&&console.log(((globalThis as any).L=p),s.toFixed(2),(performance.now()-t|0))});console.log('mend',performance.now()-t);show('mended',r.mesh)}
