#!/bin/sh
# Pictures for docs/screenshots, from the demo survey: the terminal, the figures and the report. Needs Xvfb, xterm,
# imagemagick, chromium and a fixed-width font with block signs. Use: sh tools/screenshots.sh [name ...]
set -eu
out=$(pwd)/docs/screenshots
here=$(pwd)
room=$(mktemp -d)
trap 'kill $server 2>/dev/null; rm -rf "$room"' EXIT
Xvfb :97 -noreset -screen 0 1280x800x24 > /dev/null 2>&1 & server=$!
sleep 1
Rscript exec/ableturn demo --out "$room" > /dev/null

# shot NAME FONT-SIZE COMMAND: runs the command in a terminal window and takes its picture.
shot() {
  printf 'cd %s\nPATH="%s/exec:$PATH"\nexport COLORTERM=truecolor LANG=C.UTF-8\n%s\ntouch done; sleep 30\n' "$room" "$here" "$3" > "$room/$1.sh"
  rm -f "$room/done"
  DISPLAY=:97 xterm -geometry 200x100+0+0 -fa 'DejaVu Sans Mono' -fs "$2" -bg '#fdfdfb' -fg '#1c2326' \
    -xrm 'xterm*colorBD: #0b1f2a' -e sh "$room/$1.sh" & window=$!
  waited=0
  while [ ! -e "$room/done" ] && [ $waited -lt 100 ]; do sleep 0.3; waited=$((waited + 1)); done
  [ -e "$room/done" ] || { echo "$1 did not end."; exit 1; }
  sleep 0.7
  DISPLAY=:97 import -window root "$out/$1.png"
  kill $window
}

session() { printf "Rscript -e 'options(width = 100, cli.num_colors = 256L)' -e 'source(\"%s/tools/shots.R\")' -e 'show(\"%s\")'" "$here" "$1"; }

wanted=${*:-look receipts check coding change files prove script cli errors figures report codebook desk}
for name in $wanted; do
  case $name in
    cli) shot cli 12 "clear; echo '\$ ableturn --help'; ableturn --help; echo; echo '\$ ableturn look ferry-survey.csv crossings island --codebook ferry-survey.codebook.json'; ableturn look ferry-survey.csv crossings island --codebook ferry-survey.codebook.json" ;;
    figures) (cd "$room" && Rscript "$here/tools/figures.R" "$out") ;;
    report) (cd "$room" && Rscript "$here/exec/ableturn" report ferry.turns.yaml --out page.html && chromium --headless \
      --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,2600 --screenshot="$room/page.png" \
      "file://$room/page.html" > /dev/null 2>&1 && convert page.png -crop 1280x800+0+1396 +repage "$out/report.png") ;;
    codebook) (cd "$room" && Rscript -e 'library(ableturn); book <- apply_turns("ferry-survey.csv", "ferry.turns.yaml", codebook = "ferry-survey.codebook.json"); write_codebook(book, "codebook.html")' > /dev/null 2>&1 && chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,9000 \
      --screenshot="$room/page.png" "file://$room/codebook.html" > /dev/null 2>&1 && convert page.png -crop 1280x800+0+3400 +repage "$out/codebook.png") ;;
    desk) Rscript tools/setup.R desk browser packages-only && Rscript tools/desk-shots.R "$out" > /dev/null
      for part in desk desk-form; do convert "$out/$part.png" +dither -colors 20 "vignettes/$part.png"; done ;;
    script) shot script 11 "clear; sed -n '/^# strain: /,/^# ticket4/p' derive.R" ;;
    *) shot "$name" 12 "clear; $(session "$name")" ;;
  esac
done
