const islands = ["Skerry", "Holm", "Tarn", "Ness", "Voe"];
const vessels = ["Grey Heron", "Sea Pink", "Old Anchor"];
const from = document.getElementById("from"), to = document.getElementById("to");
for (const name of islands) { from.add(new Option(name)); to.add(new Option(name)); }
to.selectedIndex = 1;

function pad(n) { return String(n).padStart(2, "0"); }

function show() {
  const rows = document.getElementById("rows");
  rows.innerHTML = "";
  const same = from.value === to.value;
  document.getElementById("none").hidden = !same;
  if (same) return;
  const length = 25 + Math.abs(from.selectedIndex - to.selectedIndex) * 10;
  for (let i = 0; i < 7; i++) {
    const start = 7 * 60 + i * 95 + from.selectedIndex * 7, end = start + length;
    const late = (i + to.selectedIndex) % 4 === 3;
    rows.insertAdjacentHTML("beforeend", `<tr><td>${pad(Math.floor(start / 60))}:${pad(start % 60)}</td><td>${pad(Math.floor(end / 60))}:${pad(end % 60)}</td><td>${vessels[i % 3]}</td><td class="${late ? "late" : ""}">${late ? "Delayed 10 min" : "On time"}</td></tr>`);
  }
}

document.getElementById("go").addEventListener("click", show);
show();
