#include "exchange/practice_page.hpp"

#include <QByteArray>
#include <QCryptographicHash>
#include <nlohmann/json.hpp>
#include <ostream>

namespace aspen::exchange {
namespace {

constexpr const char* kBefore = R"html(<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; script-src 'sha256-)html";

constexpr const char* kBody = R"html('; base-uri 'none'; form-action 'none'">
<title>Practice</title><style>
:root{color-scheme:light dark;--ground:#F5F1E8;--panel:#FFFDF8;--ink:#22302B;--quiet:#55625B;--sky:#2F5D8A;--teal:#176B58;--clay:#A8391C;--line:#D9D2C2}
@media(prefers-color-scheme:dark){:root{--ground:#191F1D;--panel:#222A27;--ink:#EDE9DE;--quiet:#A8B2AB;--sky:#8DB6DE;--teal:#5CC4A8;--clay:#F27F61;--line:#3A4540}}
body{margin:0;background:var(--ground);color:var(--ink);font:17px/1.45 Lato,system-ui,sans-serif}
main{max-width:34rem;margin:0 auto;padding:1rem 1rem 5rem}
h1{font:600 1.7rem/1.2 Vollkorn,Georgia,serif;margin:.3rem 0}
p{margin:.4rem 0}.quiet{color:var(--quiet)}
ol{padding-left:1.4rem}ol li{margin:.25rem 0;color:var(--quiet)}ol li.here{color:var(--ink);font-weight:700}
.row{display:flex;gap:.6rem;align-items:center;margin:.7rem 0;flex-wrap:wrap}
.row>span{min-width:8.5rem}
button{font:inherit;min-height:3rem;min-width:3rem;padding:.2rem 1rem;border:1px solid var(--line);border-radius:.6rem;background:var(--panel);color:var(--ink)}
button[aria-pressed=true]{border-color:var(--sky);box-shadow:inset 0 0 0 2px var(--sky)}
button.do{background:var(--sky);color:var(--ground);border-color:var(--sky);font-weight:700}
output{font-weight:700;min-width:2.2rem;text-align:center;font-size:1.3rem}
input{font:inherit;padding:.5rem;border:1px solid var(--line);border-radius:.5rem;background:var(--panel);color:var(--ink);width:100%;box-sizing:border-box}
.stop{border-left:4px solid var(--clay);padding-left:.7rem}
table{border-collapse:collapse;width:100%}td{padding:.3rem .4rem;border-top:1px solid var(--line)}
</style></head><body><main>
<p class="quiet" id="who"></p><h1 id="name"></h1><p id="purpose"></p>
<p><strong id="picture"></strong> <span id="plain"></span></p>
<ol id="ladder"></ol><p class="quiet" id="rules"></p><div id="lines"></div><div class="stop" id="caution"></div>
<h1>Today</h1>
<div class="row"><span>Your guess first</span><button data-add="guess" data-by="-1">−</button><output id="guess">–</output><button data-add="guess" data-by="1">+</button><span class="quiet">good ones</span></div>
<div class="row"><span>Tries</span><button data-add="attempts" data-by="-1">−</button><output id="attempts">0</output><button data-add="attempts" data-by="1">+</button></div>
<div class="row"><span>Good ones</span><button data-add="good" data-by="-1">−</button><output id="good">0</output><button data-add="good" data-by="1">+</button></div>
<div class="row"><span>Strides held</span><button data-add="held" data-by="-1">−</button><output id="held">0</output><button data-add="held" data-by="1">+</button></div>
<div class="row" id="feel"><span>How it felt</span></div>
<div class="row"><span>Did it hurt?</span><button data-is="pain" data-v="no">No</button><button data-is="pain" data-v="yes">Yes, I stopped</button></div>
<div class="row"><span>Tired?</span><button data-is="tired" data-v="">Neither</button><button data-is="tired" data-v="rider">Me</button><button data-is="tired" data-v="horse">My horse</button></div>
<div class="row"><input id="words" maxlength="300" placeholder="A word for your coach" aria-label="A word for your coach"></div>
<div class="row"><button class="do" id="keep">Write it down</button><button id="save">Save the log for my coach</button></div>
<p id="said" role="status"></p><table id="log"></table>
</main><script type="application/json" id="page">)html";

/// What runs; its sum stands in the page's head, so that nothing else does.
constexpr const char* kScript = R"js(
const page=JSON.parse(document.getElementById("page").textContent);
const key="practice:"+page.id+":"+page.rider, $=id=>document.getElementById(id);
let rows=[]; try{rows=JSON.parse(localStorage.getItem(key)||"[]")}catch(e){}
const fresh=()=>({guess:-1,attempts:0,good:0,held:0,feel:0,pain:"no",tired:""}); let now=fresh();
$("who").textContent=page.coach?page.rider+", from "+page.coach:page.rider;
for(const f of["name","purpose","picture","plain","rules"])$(f).textContent=page[f];
for(const f of["lines","caution"])for(const t of page[f]){const p=document.createElement("p");p.textContent=t;$(f).append(p)}
page.ladder.forEach((r,i)=>{const li=document.createElement("li");li.textContent=r;if(i==page.rung)li.className="here";$("ladder").append(li)});
for(let i=1;i<=5;i++){const b=document.createElement("button");b.textContent=i;b.dataset.is="feel";b.dataset.v=i;$("feel").append(b)}
function show(){for(const f of["attempts","good","held"])$(f).textContent=now[f];$("guess").textContent=now.guess<0?"–":now.guess;
 document.querySelectorAll("[data-is]").forEach(b=>b.setAttribute("aria-pressed",String(now[b.dataset.is])===b.dataset.v));
 $("log").replaceChildren(...rows.slice(-8).reverse().map(r=>{const tr=document.createElement("tr");
  for(const t of[r.date,r.good+" of "+r.attempts,r.pain=="yes"?"hurt":"",r.words]){const td=document.createElement("td");td.textContent=t;tr.append(td)}return tr}))}
document.querySelectorAll("[data-add]").forEach(b=>b.onclick=()=>{const f=b.dataset.add,low=f=="guess"?-1:0;
 now[f]=Math.max(low,now[f]+Number(b.dataset.by)); if(f=="good")now.attempts=Math.max(now.attempts,now.good); if(f=="attempts")now.good=Math.min(now.good,now.attempts); show()});
document.querySelectorAll("[data-is]").forEach(b=>b.onclick=()=>{now[b.dataset.is]=b.dataset.is=="feel"?Number(b.dataset.v):b.dataset.v;
 if(now.pain=="yes")$("said").textContent="Stop for today. Tell your coach; new pain goes to a doctor."; show()});
const day=()=>{const d=new Date(),p=n=>String(n).padStart(2,"0");return d.getFullYear()+"-"+p(d.getMonth()+1)+"-"+p(d.getDate())};
$("keep").onclick=()=>{rows.push({date:day(),...now,words:$("words").value}); try{localStorage.setItem(key,JSON.stringify(rows))}catch(e){}
 $("said").textContent="Written down: "+now.good+" of "+now.attempts+"."; now=fresh(); $("words").value=""; show()};
const q=t=>{t=/^'*[=+\-@\t\r]/.test(t)?"'"+t:String(t);return /[",\n\r]/.test(t)?'"'+t.replaceAll('"','""')+'"':t};
function csv(){return "date,exercise,rung,attempts,good,held,guess,feel,pain,tired,by,words\n"+rows.map(r=>[r.date,page.id,page.rung+1,r.attempts,r.good,r.held||"",r.guess<0?"":r.guess,r.feel||"",r.pain,r.tired,"rider",r.words].map(q).join(",")+"\n").join("")}
$("save").onclick=()=>{const a=document.createElement("a");a.href="data:text/csv;charset=utf-8,"+encodeURIComponent(csv());a.download="practice-"+day()+".csv";a.click();
 $("said").textContent="Saved: send the file to your coach."};
show();
)js";

}  // namespace

void write_practice_page(std::ostream& out, const PracticePage& page) {
    const core::GoingHome& e = page.home;
    nlohmann::ordered_json said{{"id", page.id},        {"rider", page.rider},  {"coach", page.from_coach},
                                {"name", e.name},       {"purpose", e.purpose}, {"picture", e.cue_picture},
                                {"plain", e.cue_plain}, {"rung", e.here}};
    auto ladder = nlohmann::ordered_json::array();
    for (const core::GoingHome::Step& s : e.steps) ladder.push_back(s.spoken());
    said["ladder"] = ladder;
    said["rules"] =
        "Dose: " + e.dose + ". A good ride: " + e.good_ride + ". Up: " + e.up + ". Down: " + e.down + ".";
    said["lines"] = page.lines;
    said["caution"] = e.rules();
    std::string json = said.dump();
    // Data, whatever a text says: no sign in it begins a tag or a comment.
    for (std::size_t at = 0; (at = json.find('<', at)) != std::string::npos; at += 6)
        json.replace(at, 1, "\\u003c");
    const QByteArray sum =
        QCryptographicHash::hash(QByteArray(kScript), QCryptographicHash::Sha256).toBase64();
    out << kBefore << sum.toStdString() << kBody << json << "</script><script>" << kScript
        << "</script></body></html>\n";
}

}  // namespace aspen::exchange
