/* A game's loop with a character of Lean Step: here the lamplighter of the demo, in text instead of pictures.
 *
 *     lean-step export demo/lamplighter.leanstep --to table --to players --to interface --out build
 *     c++ -std=c++17 -O2 -ffp-contract=off -Ibuild examples/game.cpp -o build/game && build/game build/lamplighter.table.json
 */
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <sstream>

#include "lamplighter_names.h"
#include "leanstep_player.hpp"

static const double RATE = 60, GRAVITY = 900, JUMP = 260, FASTEST = 80, FASTER = 500;

/* The game's own physics: it runs, jumps and falls. */
struct body_t {
  double x = 0, y = 0, vx = 0, vy = 0;

  void move(double push, bool jumps, bool locked) {
    const double wanted = locked ? 0 : push * FASTEST, step = FASTER / RATE;
    vx = vx < wanted ? std::min(vx + step, wanted) : std::max(vx - step, wanted);
    if (jumps && y == 0 && !locked) vy = JUMP;
    x = x + vx / RATE;
    y = y + vy / RATE;
    vy = vy - GRAVITY / RATE;
    if (y <= 0) y = vy = 0;
  }
};

int main(int count, char **arguments) {
  if (count != 2) return std::puts("usage: game NAME.table.json"), 2;
  std::stringstream text;
  text << std::ifstream(arguments[1]).rdbuf();
  const leanstep::table table(text.str());
  leanstep::player hero(table);
  body_t body;
  bool jumped = false;
  std::string shown;
  for (int tick = 0; tick < 240; tick++) {
    /* what a player's hands do; a real game reads a device here */
    const double push = tick >= 30 && tick < 150 ? 1 : 0;
    const bool held = tick >= 90 && tick < 100;
    /* 1. the game moves the body; what the character locked on the tick before counts */
    body.move(push, held && !jumped, hero.locked());
    jumped = held;
    /* 2. the character is told about hands and body, and plays a tick */
    hero.push(0, push, 0);
    hero.hold(LAMPLIGHTER_PARAMETER_JUMP, held);
    hero.set(LAMPLIGHTER_PARAMETER_SPEED, std::fabs(body.vx));
    hero.set(LAMPLIGHTER_PARAMETER_RISE, body.vy);
    hero.set(LAMPLIGHTER_PARAMETER_GROUNDED, body.y == 0);
    hero.step();
    /* 3. the game draws what is shown, and answers what happened */
    if (hero.state(LAMPLIGHTER_LAYER_BASE) != shown) {
      shown = hero.state(LAMPLIGHTER_LAYER_BASE);
      const leanstep::shown picture = hero.frame(LAMPLIGHTER_LAYER_BASE);
      std::printf("tick %d: %s, at %.1f, shows %s\n", tick, shown.c_str(), body.x, picture.frame.empty() ? "nothing" : picture.frame.c_str());
    }
    for (const std::string &mark : hero.marks()) std::printf("tick %d: %s\n", tick, mark.c_str());
  }
  return 0;
}
