# What tools/debian-check does as a player, where the package is installed: asks it who it is, plays into a window, opens
# its own.
set -eu
nubshift --version
demo=$(echo /usr/lib/nubshift/lib/python3*/site-packages/nubshift/demo)
nubshift check "$demo/ferrow-deep.nubshift.json"

export XDG_RUNTIME_DIR="$HOME/runtime" DISPLAY=:77
mkdir -m 700 -p "$XDG_RUNTIME_DIR"
Xvfb :77 -screen 0 1280x800x24 >/dev/null 2>&1 &
screen=$!
trap 'kill $screen 2>/dev/null || true' EXIT
for try in $(seq 200); do # until it can be asked
    xdpyinfo >/dev/null 2>&1 && break
    sleep 0.1
done

wait_for() { # a window with this name
    for try in $(seq 200); do
        found=$(xdotool search --onlyvisible --name "$1" 2>/dev/null | head -1)
        [ -n "$found" ] && return 0
        sleep 0.1
    done
    echo "no window named $1"
    return 1
}

xev -event keyboard >keys &
game=$!
wait_for "Event Tester"
xdotool windowfocus "$found"
printf 'nubshift-take 1\n0 south=0\n500000 south=1\n1000000 south=0\n' >press.take
nubshift run "$demo/ferrow-deep.nubshift.json" --source take:press.take --sink xtest --for 3 2>/dev/null
kill $game
grep -q KeyPress keys || { echo "no key reached the window"; exit 1; }
echo "a profile played: $(grep -c KeyPress keys) keys pressed, $(grep -c KeyRelease keys) released"

nubshift "$demo/ferrow-deep.nubshift.json" --sink xtest 2>window.log &
window=$!
wait_for "Nub Shift" || { cat window.log; exit 1; }
echo "the window is there"
xdotool windowclose "$found"
kill $window 2>/dev/null || true
wait $window || true
