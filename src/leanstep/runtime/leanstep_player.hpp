/* The player of leanstep_player.h for C++17, with names as strings and memory of its own. */
#ifndef LEANSTEP_PLAYER_HPP
#define LEANSTEP_PLAYER_HPP

#include <memory>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

#include "leanstep_player.h"

namespace leanstep {

/* What is wrong with a table, or with what a player is asked, in a sentence. */
struct table_error : std::runtime_error {
  using std::runtime_error::runtime_error;
};

/* A character's table, from the text of its file; it must outlive its players. */
class table {
 public:
  explicit table(std::string_view text) : memory_(ls_table_size(text.size())) {
    if (!ls_load(&made_, text.data(), text.size(), memory_.data(), memory_.size())) throw table_error(made_.error);
  }
  table(const table &) = delete;
  table &operator=(const table &) = delete;

  int index(int kind, const std::string &name) const {
    const int at = ls_find(&made_, kind, name.c_str());
    if (at < 0) throw table_error("the table has nothing called " + name + " among its " + ls_kinds[kind]);
    return at;
  }
  const char *name(int kind, int64_t at) const { return made_.names[kind][at]; }
  const ls_table *raw() const { return &made_; }

 private:
  std::vector<char> memory_;
  ls_table made_{};
};

struct shown {
  std::string frame;
  int64_t cel, mirrored, turns;
};

/* So many times as wide and high, about the foot, then tilted by so many degrees clockwise. */
struct drawn_shape {
  double wide, high, tilt;
  bool whole;
};

/* A figure that plays a table. */
class player {
 public:
  explicit player(const table &of) : table_(of), memory_(ls_figure_size(of.raw()) + 16) { restart(); }
  player(const player &) = delete;
  player &operator=(const player &) = delete;

  void restart() {
    void *room = memory_.data();
    size_t size = memory_.size();
    figure_ = ls_begin(table_.raw(), std::align(16, size - 16, room, size));
  }
  /* parameters and layers by their names, or by their numbers (NAME_names.h) */
  void set(const std::string &name, double value) { set(table_.index(LS_PARAMETERS, name), value); }
  void set(int at, double value) {
    if (at < 0 || at >= table_.raw()->counts[LS_PARAMETERS]) throw table_error("the table has no parameter of this number");
    if (ls_owner(table_.raw(), at) >= LS_GRAPH)
      throw table_error(std::string(table_.name(LS_PARAMETERS, at)) + " is set by effects or formulas, not by the game");
    ls_set(figure_, at, value);
  }
  template <class Name> void hold(const Name &button, bool held) { set(button, held ? 1.0 : 0.0); }
  template <class Name> void pulse(const Name &name) { set(name, 1.0); }
  void choose(const std::string &name, const std::string &word) { set(name, table_.index(LS_WORDS, word)); }
  void push(int stick, double x, double y) { ls_push(figure_, stick, x, y); }
  void step() { ls_step(figure_); }
  /* how the figure is drawn; called once after each step (ls_shape) */
  drawn_shape shape(double velocity, double up = 0.0, double facing = 90.0, bool grounded = true) {
    ls_shape(figure_, velocity, up, facing, grounded);
    return {figure_->shape_wide, figure_->shape_high, figure_->shape_tilt, figure_->shape_whole != 0};
  }

  double value(const std::string &name) const { return figure_->values[table_.index(LS_PARAMETERS, name)]; }
  const char *state(const std::string &layer) const { return state(table_.index(LS_LAYER_NAMES, layer)); }
  const char *state(int layer) const { return table_.name(LS_STATE_NAMES, figure_->layers[layer].state); }
  /* what a layer shows of a figure that looks right, or left; an empty frame: nothing */
  shown frame(const std::string &layer, bool left = false) const { return frame(table_.index(LS_LAYER_NAMES, layer), left); }
  shown frame(int layer, bool left = false) const {
    shown found{"", ls_cel(figure_, layer), 0, 0};
    if (const char *name = ls_frame_to(figure_, layer, left, &found.mirrored, &found.turns)) found.frame = name;
    return found;
  }
  std::vector<std::string> marks() const {
    std::vector<std::string> found;
    for (int64_t at = 0; at < figure_->fired_count; at++) found.push_back(table_.name(LS_MARKS, figure_->fired[at].mark));
    return found;
  }
  /* the pin points of what is seen, where marks fired that name one, and the accessories, of a figure that looks right, or left */
  std::vector<ls_pin> pins(bool left = false) { return placed<ls_pin>(ls_pins(figure_, left), ls_pin_at); }
  std::vector<ls_pin> mark_pins(bool left = false) { return placed<ls_pin>(ls_mark_pins(figure_, left), ls_pin_at); }
  std::vector<ls_pinned> pinned(bool left = false) { return placed<ls_pinned>(ls_accessories(figure_, left), ls_accessory_at); }
  /* how the parts are moved of what is seen and drawn from parts */
  std::vector<ls_part_pose> parts(bool left = false) { return placed<ls_part_pose>(ls_parts(figure_, left), ls_part_at); }
  bool locked() const { return figure_->locked != 0; }
  /* all the rest: what is asked of the body, spans, picks */
  const ls_figure &raw() const { return *figure_; }

 private:
  template <class Found> std::vector<Found> placed(int64_t count, Found (*at)(const ls_figure *, int64_t)) const {
    std::vector<Found> found;
    for (int64_t one = 0; one < count; one++) found.push_back(at(figure_, one));
    return found;
  }

  const table &table_;
  std::vector<char> memory_;
  ls_figure *figure_ = nullptr;
};

}  // namespace leanstep

#endif
