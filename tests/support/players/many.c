/* Replays golden traces by tables that may be damaged: a line of standard input names both; behind what comes out it says how that went. */
#define main replay_main
#include "leanstep_replay.c"
#undef main

int main(void) {
  char line[2048];
  while (fgets(line, sizeof line, stdin)) {
    char *table = strtok(line, "\t\n"), *golden = strtok(NULL, "\t\n");
    char *words[] = {"many", table, golden};
    printf("== %d\n", golden ? replay_main(3, words) : 2);
    fflush(stdout);
  }
  return 0;
}
