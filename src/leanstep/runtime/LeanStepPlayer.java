import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Plays a character from its table (NAME.table.json), tick for tick and bit for bit as Lean Step does. One file, Java 17 or later.
 *
 * <pre>
 * LeanStepPlayer hero = new LeanStepPlayer(LeanStepPlayer.Table.load(Path.of("hero.table.json")));
 * hero.hold("jump", true);            // buttons; hero.push("stick", 1, 0) for sticks
 * hero.set("speed", 3.5);             // what your game and your physics set; hero.pulse("hurt")
 * hero.step();                        // once a tick
 * hero.frame("base", false);          // what to draw: clip, cel, frame; null: nothing
 * hero.marks(); hero.spans(); hero.locked(); hero.asked();
 * </pre>
 */
public final class LeanStepPlayer {
    /** What is wrong with a table, or with what a player is asked, in a sentence. */
    public static final class TableException extends RuntimeException {
        private static final long serialVersionUID = 1;

        TableException(String sentence) {
            super(sentence);
        }
    }

    /** What a layer shows: clip, cel and frame, mirrored and then turned by quarters clockwise, and moved ahead (as it looks) and up. */
    public record Shown(String clip, int cel, String frame, boolean mirrored, int turns, double x, double y, int layer) {}

    /** Where a pin point lies: pixels of the drawing from the figure's foot, and the bearing in which it points; number: of its layer. */
    public record Pin(String name, int number, double x, double y, double angle, boolean behind) {}

    /** An accessory: its frame, mirrored, and then turned (degrees clockwise) about its foot, which lies at x, y from the figure's. */
    public record Pinned(
        String name, int layer, boolean behind, String frame, boolean mirrored, double turn, double x, double y) {}

    /** How a part is moved in its parent, in pixels of the drawing to the right and up, then turned about its joint (degrees clockwise), and
     *  how many times as wide and high it is, which comes first of all. */
    public record PartPose(String name, int layer, double x, double y, double turn, double wide, double high) {}

    /** A mark that fired, or a span that is on, with what it says. */
    public record Said(String name, Map<String, Object> says) {}

    /** What clips and effects ask of the body on this tick: how far it goes, ahead and up, what of it counts, a mode, and pushes. */
    public record Asked(double ahead, double up, int travels, int mode, double pushAhead, double pushUp) {}

    /** What the active states ask of the body; 0: nothing. */
    public record Requests(int mode, boolean backward, double face, double cap, double fall, double wide, double high) {}

    /** How a figure is drawn: so many times as wide and high, about its foot, then tilted by so many degrees clockwise; whole: its height
     *  is a whole number of pixels. */
    public record Shape(double wide, double high, double tilt, boolean whole) {}

    /** A character's table; m and r are its rows as the methods below read them. */
    public static final class Table {
        public final String name;
        public final double rate;
        public final int version;
        final long[] m;
        final double[] r;
        final Map<String, List<Object>> names = new HashMap<>();
        final Map<String, Map<String, Integer>> numbers = new HashMap<>();
        final Map<String, Object> cues;
        final Map<String, Object> windows;
        final int windowCount;

        /** Read a table's file. */
        public static Table load(Path path) throws IOException {
            return new Table(Files.readString(path, StandardCharsets.UTF_8));
        }

        /** A table from the text of its file. */
        public Table(String text) {
            Object whole = new Json(text).whole();
            Map<String, Object> made = whole instanceof Map ? object(whole, "table") : Map.of();
            Object told = made.get("leanstep_table");
            if (!(told instanceof Double number) || number < 1 || number != Math.rint(number)) {
                throw new TableException("this is no table of Lean Step: export one with  lean-step export FILE --to table");
            }
            if (number > VERSION) {
                throw new TableException(
                    "the table has version " + number.intValue() + ", and this player knows " + VERSION + ": take the player beside it");
            }
            version = number.intValue();
            Map<String, Object> columns = object(made.get("columns"), "columns");
            Map<String, Object> sections = object(made.get("sections"), "sections");
            Map<String, Object> named = object(made.get("names"), "names");
            Map<String, Object> says = object(made.get("says"), "says");
            if (!(made.get("name") instanceof String given)) throw damaged("name");
            name = given;
            int[] widths = new int[COLUMNS.length];
            for (int at = 0; at < COLUMNS.length; at++) {
                List<String> known = List.of(COLUMNS[at][1].split(" "));
                widths[at] = version < VERSION ? OLDER_WIDTHS[version - 1][at] : known.size();
                if (widths[at] > 0 && !known.subList(0, widths[at]).equals(columns.get(COLUMNS[at][0]))) {
                    throw new TableException(
                        "the table's " + COLUMNS[at][0] + " have other columns than this player reads: take the player beside it");
                }
            }
            for (String kind : NAMED) {
                Map<String, Integer> places = new HashMap<>();
                List<Object> some = list(named.get(kind), "names of " + kind);
                for (Object one : some) {
                    if (!(one instanceof String)) throw damaged("names of " + kind);
                    places.putIfAbsent((String) one, places.size());
                }
                names.put(kind, some);
                numbers.put(kind, places);
            }
            cues = said(says, "cues");
            windows = said(says, "windows");
            rate = cell(made.get("rate"));
            if (!(rate > 0) || Double.isInfinite(rate)) throw damaged("rate");
            long[] counts = new long[COLUMNS.length], rows = new long[COLUMNS.length], nameCounts = new long[NAMED.length];
            double[] cells = cells(sections, widths, counts, rows);
            windowCount = (int) counts[WINDOWS];
            for (int at = 0; at < NAMED.length; at++) nameCounts[at] = names.get(NAMED[at]).size();
            if (wrongCell(cells, counts, nameCounts) >= 0) throw damaged("cell " + wrongCell(cells, counts, nameCounts));
            rowsOf(counts, rows);
            if (!agrees(cells, counts, nameCounts, rows, new long[4 * (int) counts[PROGRAMS] + 1])) {
                throw damaged("rows that lead to each other");
            }
            m = new long[(int) laidSize(counts)];
            r = new double[m.length];
            lay(cells, counts, nameCounts, m, r);
        }

        private static double[] cells(Map<String, Object> sections, int[] widths, long[] counts, long[] rows) {
            for (int at = 0; at < COLUMNS.length; at++) {
                if (widths[at] == 0) sections.put(COLUMNS[at][0], List.of());
                List<Object> some = list(sections.get(COLUMNS[at][0]), COLUMNS[at][0]);
                counts[at] = some.size();
                for (Object row : some) if (list(row, COLUMNS[at][0]).size() != widths[at]) throw damaged(COLUMNS[at][0]);
            }
            double[] cells = new double[(int) rowsOf(counts, rows)];
            int to = 0;
            for (String[] section : COLUMNS) {
                int width = section[1].split(" ").length;
                for (Object row : list(sections.get(section[0]), section[0])) {
                    List<Object> some = list(row, section[0]);
                    for (int at = 0; at < width; at++) cells[to++] = at < some.size() ? cell(some.get(at)) : 0.0;
                }
            }
            return cells;
        }

        private static Map<String, Object> said(Map<String, Object> says, String part) {
            Map<String, Object> found = object(says.get(part), "says of " + part);
            for (Object one : found.values()) object(one, "says of " + part);
            return found;
        }

        /** The number of a name. */
        public int index(String kind, String name) {
            Integer at = numbers.get(kind).get(name);
            if (at == null) throw new TableException(this.name + " has no " + kind.replaceAll("s$", "") + " called " + name);
            return at;
        }

        String nameOf(String kind, long at) {
            return (String) names.get(kind).get((int) at);
        }

        long parameter(int at, int what) {
            return m[(int) m[HEAD_PARAMETERS] + at * PARAMETER_SIZE + what];
        }
    }

    private final Table table;
    private final long[] m, z, k, taken, out;
    private final double[] r, v, s;
    private final Map<Integer, Double> given = new LinkedHashMap<>();

    /** A figure just before tick 0. */
    public LeanStepPlayer(Table table) {
        this.table = table;
        m = table.m;
        r = table.r;
        z = new long[(int) m[HEAD_COUNTS]];
        v = new double[(int) m[HEAD_VALUES]];
        k = new long[TOLD + TOLD_SIZE * (int) m[HEAD_MOST_TOLD]];
        taken = new long[(int) m[HEAD_LAYER_COUNT]];
        s = new double[DRAWN_SIZE + taken.length];
        out = new long[2 * table.windowCount * taken.length + 1];
        restart();
    }

    /** Begin again, just before tick 0. */
    public void restart() {
        java.util.Arrays.fill(z, 0);
        java.util.Arrays.fill(v, 0.0);
        java.util.Arrays.fill(k, 0);
        java.util.Arrays.fill(s, 0.0);
        java.util.Arrays.fill(taken, -1);
        k[1] = m[HEAD_MOST_TOLD];
        given.clear();
        enterStart(m, r, z, v, k);
        beginShape(m, r, z, s);
    }

    /** Set a number that the game, the controls or the body sets; it is kept until it is set again. */
    public void set(String name, double value) {
        int at = table.index("parameters", name);
        if (table.parameter(at, PARAMETER_OWNER) >= GRAPH) {
            throw new TableException(name + " is set by effects or formulas, not by the game");
        }
        given.put(at, fitted(m, r, at, value));
    }

    public void set(String name, boolean value) {
        set(name, value ? 1.0 : 0.0);
    }

    /** Set a choice. */
    public void set(String name, String word) {
        set(name, (double) table.index("words", word));
    }

    public void hold(String button, boolean held) {
        set(button, held);
    }

    public void pulse(String name) {
        set(name, true);
    }

    /** A stick is pushed so far right and up, each from -1 to 1. */
    public void push(String stick, double x, double y) {
        set(stick + ".x", x);
        set(stick + ".y", y);
        set(stick + ".push", pushOf(x, y));
        set(stick + ".bearing", bearingOf(x, y));
    }

    /** One tick with what has been set. */
    public void step() {
        openTick(m, z, v);
        given.forEach((at, value) -> v[at] = value);
        given.clear();
        k[0] = 0;
        keepBearings(m, v);
        forgetAsked(m, v);
        tick(m, r, z, v, k, true, taken, 0);
    }

    /** How the figure is drawn; called once after each step, with what the body does: its velocity to the right (seen from above: its
     *  speed) and up, in units a second, where it looks, as a bearing (90 is right, 270 left), and whether it stands. */
    public Shape shape(double velocity, double up, double facing, boolean grounded) {
        followShape(m, r, z, k, taken, s, velocity, up, reduced(facing), grounded);
        return shape();
    }

    private Shape shape() {
        return new Shape(s[DRAWN_WIDE], s[DRAWN_HIGH], s[DRAWN_TILT], s[DRAWN_WHOLE] != 0.0);
    }

    /** The value of a parameter as a number; of a choice the number of its word. */
    public double value(String name) {
        return v[table.index("parameters", name)];
    }

    /** The word of a choice. */
    public String word(String name) {
        return table.nameOf("words", (long) value(name));
    }

    /** The name of a layer's state. */
    public String state(String layer) {
        return table.nameOf("states", each(table.index("layers", layer), PLAYER_STATE));
    }

    /** What a layer shows of a figure that looks right, or left; null: nothing. */
    public Shown frame(String layer, boolean left) {
        return shown(table.index("layers", layer), left);
    }

    /** What is seen of a figure that looks right, or left, from the back to the front. */
    public List<Shown> frames(boolean left) {
        List<Shown> found = new ArrayList<>();
        long lowest = lowestSeen(m, r, z, v);
        for (int layer = (int) lowest; lowest >= 0 && layer < taken.length; layer++) {
            Shown one = shown(layer, left);
            if (one != null) found.add(one);
        }
        return found;
    }

    private Shown shown(int layer, boolean left) {
        long cel = cel(layer);
        if (cel < 0) return null;
        String clip = table.nameOf("clips", (clipOf(m, z, layer) - m[HEAD_CLIPS]) / CLIP_SIZE);
        String frame = table.nameOf("frames", (int) frameOf(m, r, z, v, layer, cel));
        int turns = (int) quarterTurns(m, z, layer, cel, left);
        double x = aside(m, r, z, layer, 1), y = aside(m, r, z, layer, 2);
        return new Shown(clip, (int) cel, frame, isMirrored(m, z, layer, cel, left), turns, left ? -x : x, y, layer);
    }

    /** The pin points of what is seen of a figure that looks right, or left, as it is drawn since shape was called last. */
    public List<Pin> pins(boolean left) {
        double[] found = new double[(int) (taken.length * rows(HEAD_SPOTS, SPOT_SIZE) * PLACED_SIZE)];
        long count = listPins(m, r, z, v, left, s[DRAWN_WIDE], s[DRAWN_HIGH], s[DRAWN_TILT], found);
        return pins(found, count);
    }

    /** The same where marks fired that name a pin point; number: of the mark among those that fired. */
    public List<Pin> markPins(boolean left) {
        double[] found = new double[(int) (k[1] * PLACED_SIZE)];
        return pins(found, listPlaces(m, r, k, left, s[DRAWN_WIDE], s[DRAWN_HIGH], s[DRAWN_TILT], found));
    }

    private List<Pin> pins(double[] found, long count) {
        List<Pin> made = new ArrayList<>();
        for (int at = 0; at < count * PLACED_SIZE; at += PLACED_SIZE) {
            String name = table.nameOf("words", (long) found[at + PLACED_PIN]);
            boolean behind = found[at + PLACED_BEHIND] != 0.0;
            double x = found[at + PLACED_X], y = found[at + PLACED_Y];
            made.add(new Pin(name, (int) found[at + PLACED_NUMBER], x, y, found[at + PLACED_ANGLE], behind));
        }
        return made;
    }

    /** The accessories that are seen of a figure that looks right, or left. */
    public List<Pinned> pinned(boolean left) {
        double[] found = new double[(int) (taken.length * rows(HEAD_ACCESSORIES, ACCESSORY_SIZE) * PINNED_SIZE)];
        long count = listPinned(m, r, z, v, left, s[DRAWN_WIDE], s[DRAWN_HIGH], s[DRAWN_TILT], found);
        List<Pinned> made = new ArrayList<>();
        for (int at = 0; at < count * PINNED_SIZE; at += PINNED_SIZE) {
            String name = table.nameOf("words", (long) found[at + PINNED_NAME]);
            String frame = table.nameOf("frames", (long) found[at + PINNED_FRAME]);
            boolean behind = found[at + PINNED_BEHIND] != 0.0, mirrored = found[at + PINNED_MIRRORED] != 0.0;
            double x = found[at + PINNED_X], y = found[at + PINNED_Y], turn = found[at + PINNED_TURN];
            made.add(new Pinned(name, (int) found[at + PINNED_LAYER], behind, frame, mirrored, turn, x, y));
        }
        return made;
    }

    /** How the parts are moved of what is seen and drawn from parts, layer by layer from the back to the front, parents first; mixed where
     *  samples of a blend space mix. */
    public List<PartPose> parts(boolean left) {
        double[] weights = new double[(int) (2 * rows(HEAD_SAMPLES, SAMPLE_SIZE))], found = new double[(int) (mostParts(m) * PARTED_SIZE)];
        long count = listParts(m, r, z, v, left, weights, found);
        List<PartPose> made = new ArrayList<>();
        for (int at = 0; at < count * PARTED_SIZE; at += PARTED_SIZE) {
            String name = table.nameOf("words", (long) found[at + PARTED_PART]);
            double x = found[at + PARTED_X], y = found[at + PARTED_Y], turn = found[at + PARTED_TURN];
            made.add(new PartPose(name, (int) found[at + PARTED_LAYER], x, y, turn, found[at + PARTED_WIDE], found[at + PARTED_HIGH]));
        }
        return made;
    }

    private long rows(int section, int size) {
        return (m[section + 1] - m[section]) / size;
    }

    /** The number of the cel a layer shows; -1: none. */
    public long cel(int layer) {
        return celOf(m, r, z, v, layer);
    }

    /** The marks that fired on this tick, in order. */
    public List<Said> marks() {
        List<Said> found = new ArrayList<>();
        for (int at = TOLD; at < TOLD + TOLD_SIZE * k[0]; at += TOLD_SIZE) {
            found.add(new Said(table.nameOf("marks", k[at + 2]), saying(table.cues, k[at + 3])));
        }
        return found;
    }

    /** The spans that are on. */
    public List<Said> spans() {
        List<Said> found = new ArrayList<>();
        long count = listSpans(m, z, out);
        for (int at = 0; at < count; at++) {
            found.add(new Said(table.nameOf("spans", out[2 * at]), saying(table.windows, out[2 * at + 1])));
        }
        return found;
    }

    private static Map<String, Object> saying(Map<String, Object> said, long row) {
        Object one = said.get(Long.toString(row));
        return one == null ? Map.of() : object(one, "says");
    }

    /** Whether movement is locked. */
    public boolean locked() {
        return z[NOW_LOCKED] != 0;
    }

    /** What is asked of the body on this tick. */
    public Asked asked() {
        int place = (int) m[HEAD_PLACE];
        return new Asked(
            v[place + FIELDS_TRAVEL], v[place + FIELDS_TRAVEL_UP], (int) v[place + FIELDS_TRAVELS], (int) v[place + FIELDS_MODE],
            v[place + FIELDS_PUSH], v[place + FIELDS_PUSH_UP]);
    }

    /** What the active states ask of the body. */
    public Requests requests() {
        return new Requests(
            (int) requestedMode(m, z), goesBackward(m, z), requested(m, r, z, STATE_FACE), requested(m, r, z, STATE_CAP),
            requested(m, r, z, STATE_FALL), requested(m, r, z, STATE_WIDE), requested(m, r, z, STATE_HIGH));
    }

    private long each(int layer, int what) {
        return z[FIRST_PLAYER + layer * PLAYER_SIZE + what];
    }

    // -- reading ---------------------------------------------------------------------------------------------------------

    private static TableException damaged(String what) {
        return new TableException("the table is damaged (" + what + "): export it again");
    }

    @SuppressWarnings("unchecked")
    private static Map<String, Object> object(Object value, String what) {
        if (!(value instanceof Map)) throw damaged(what);
        return (Map<String, Object>) value;
    }

    @SuppressWarnings("unchecked")
    private static List<Object> list(Object value, String what) {
        if (!(value instanceof List)) throw damaged(what);
        return (List<Object>) value;
    }

    /** What a cell holds as a number: null is none, and what cannot stand there is infinite. */
    private static double cell(Object value) {
        if (value == null) return Double.NaN;
        return value instanceof Double number ? number : Double.POSITIVE_INFINITY;
    }

    /** JSON, strictly. */
    private static final class Json {
        private static final java.util.regex.Pattern NUMBER =
            java.util.regex.Pattern.compile("-?(0|[1-9][0-9]*)(\\.[0-9]+)?([eE][-+]?[0-9]+)?");
        private final String text;
        private int at = 0, depth = 0;

        Json(String text) {
            this.text = text;
        }

        Object whole() {
            Object made = value();
            space();
            if (at != text.length()) throw broken();
            return made;
        }

        private TableException broken() {
            return new TableException("this is no table: it is no JSON (character " + at + ")");
        }

        private void space() {
            while (at < text.length() && " \n\t\r".indexOf(text.charAt(at)) >= 0) at++;
        }

        private boolean next(char mark) {
            space();
            if (at >= text.length() || text.charAt(at) != mark) return false;
            at++;
            return true;
        }

        private void want(char mark) {
            if (!next(mark)) throw broken();
        }

        private Object value() {
            space();
            if (++depth > 200 || at >= text.length()) throw broken();
            Object made = switch (text.charAt(at)) {
                case '{' -> members();
                case '[' -> items();
                case '"' -> string();
                case 't' -> word("true", Boolean.TRUE);
                case 'f' -> word("false", Boolean.FALSE);
                case 'n' -> word("null", null);
                default -> number();
            };
            depth--;
            return made;
        }

        private Map<String, Object> members() {
            Map<String, Object> made = new LinkedHashMap<>();
            want('{');
            if (next('}')) return made;
            do {
                space();
                String key = string();
                want(':');
                made.put(key, value());
            } while (next(','));
            want('}');
            return made;
        }

        private List<Object> items() {
            List<Object> made = new ArrayList<>();
            want('[');
            if (next(']')) return made;
            do made.add(value()); while (next(','));
            want(']');
            return made;
        }

        private Object word(String word, Object value) {
            if (!text.startsWith(word, at)) throw broken();
            at += word.length();
            return value;
        }

        private Double number() {
            java.util.regex.Matcher found = NUMBER.matcher(text).region(at, text.length());
            if (!found.lookingAt()) throw broken();
            at = found.end();
            return Double.valueOf(found.group());
        }

        private String string() {
            StringBuilder made = new StringBuilder();
            want('"');
            while (true) {
                if (at >= text.length() || text.charAt(at) < ' ') throw broken();
                char letter = text.charAt(at++);
                if (letter == '"') return made.toString();
                if (letter == '\\') {
                    if (at >= text.length()) throw broken();
                    int known = "nrtbf\"\\/".indexOf(text.charAt(at++));
                    if (known >= 0) letter = "\n\r\t\b\f\"\\/".charAt(known);
                    else if (text.charAt(at - 1) == 'u' && at + 4 <= text.length() && text.substring(at, at + 4).matches("[0-9a-fA-F]{4}")) {
                        letter = (char) Integer.parseInt(text.substring(at, at + 4), 16);
                        at += 4;
                    } else throw broken();
                }
                made.append(letter);
            }
        }
    }

    // -- golden traces -----------------------------------------------------------------------------------------------------

    private static String bits(double value) {
        return String.format("%016x", Double.doubleToLongBits(value));
    }

    private static double fromBits(String text) {
        return Double.longBitsToDouble(Long.parseUnsignedLong(text, 16));
    }

    private String told() {
        List<String> marks = new ArrayList<>(), spans = new ArrayList<>(), values = new ArrayList<>();
        for (int at = TOLD; at < TOLD + TOLD_SIZE * k[0]; at += TOLD_SIZE) marks.add(k[at + 1] + ":" + k[at + 2]);
        for (long at = m[HEAD_SPANS]; at < m[HEAD_SPANS_END]; at++) if (z[(int) at] != 0) spans.add("" + (at - m[HEAD_SPANS]));
        for (int at = 0; at < m[HEAD_PLACE]; at++) if (table.parameter(at, PARAMETER_OWNER) >= GRAPH) values.add(bits(v[at]));
        StringBuilder line = new StringBuilder("out");
        String[] fields = {"states", "stays", "heads", "picks", "cels", "taken"};
        int[] places = {PLAYER_STATE, PLAYER_STAY, PLAYER_HEAD, PLAYER_PICK};
        for (int field = 0; field < fields.length; field++) {
            List<String> some = new ArrayList<>();
            for (int layer = 0; layer < taken.length; layer++) {
                some.add("" + (field < 4 ? each(layer, places[field]) : field == 4 ? cel(layer) : taken[layer]));
            }
            line.append(' ').append(fields[field]).append('=').append(String.join(",", some));
        }
        Asked asked = asked();
        line.append(" marks=").append(String.join(",", marks)).append(" spans=").append(String.join(",", spans));
        line.append(" locked=").append(z[NOW_LOCKED]).append(" freeze=").append(z[NOW_FREEZE]);
        line.append(" travel=").append(bits(asked.ahead)).append(',').append(bits(asked.up)).append(',').append(asked.travels);
        line.append(" asked=").append(bits(asked.mode)).append(',').append(bits(asked.pushAhead)).append(',').append(bits(asked.pushUp));
        line.append(" values=").append(String.join(",", values));
        if (table.version > 1) line.append(drawn());
        if (table.version > 5) line.append(placed());
        if (table.version > 6) line.append(parted());
        if (table.version > 2) {
            Shape one = shape();
            line.append(" shape=").append(bits(one.wide)).append(',').append(bits(one.high)).append(',').append(bits(one.tilt));
            line.append(',').append(one.whole ? 1 : 0);
        }
        return line.toString();
    }

    private String placed() {
        boolean left = s[DRAWN_FACING] > 180.0;
        List<String> pins = new ArrayList<>(), pinned = new ArrayList<>(), places = new ArrayList<>();
        for (Pin one : pins(left)) pins.add(one.number + ":" + table.index("words", one.name) + place(one) + ":" + (one.behind ? 1 : 0));
        for (Pinned one : pinned(left)) {
            String drawn = (one.behind ? 1 : 0) + ":" + table.index("frames", one.frame) + ":" + (one.mirrored ? 1 : 0);
            String where = ":" + bits(one.x) + ":" + bits(one.y) + ":" + bits(one.turn);
            pinned.add(table.index("words", one.name) + ":" + one.layer + ":" + drawn + where);
        }
        for (Pin one : markPins(left)) places.add(one.number + ":" + table.index("words", one.name) + place(one));
        return " pins=" + String.join(",", pins) + " pinned=" + String.join(",", pinned) + " places=" + String.join(",", places);
    }

    private String parted() {
        List<String> told = new ArrayList<>();
        for (PartPose one : parts(s[DRAWN_FACING] > 180.0)) {
            StringBuilder part = new StringBuilder(one.layer + ":" + table.index("words", one.name));
            for (double each : new double[] {one.x, one.y, one.turn, one.wide, one.high}) part.append(':').append(bits(each));
            told.add(part.toString());
        }
        return " parts=" + String.join(",", told);
    }

    private static String place(Pin one) {
        return ":" + bits(one.x) + ":" + bits(one.y) + ":" + bits(one.angle);
    }

    private String drawn() {
        Requests asked = requests();
        List<String> draws = new ArrayList<>();
        for (Shown one : frames(false)) {
            int frame = table.index("frames", one.frame);
            draws.add(one.layer + ":" + frame + ":" + (one.mirrored ? 1 : 0) + ":" + one.turns + ":" + bits(one.x) + ":" + bits(one.y));
        }
        double[] rest = {asked.face, asked.cap, asked.fall, asked.wide, asked.high};
        StringBuilder line = new StringBuilder(" requests=" + asked.mode + "," + (asked.backward ? 1 : 0));
        for (double one : rest) line.append(',').append(bits(one));
        return line + " draws=" + String.join(",", draws);
    }

    /** Replay golden traces, each behind its table; print what comes out. */
    public static void main(String[] paths) throws IOException {
        if (paths.length == 0 || paths.length % 2 != 0) {
            System.err.println("usage: java LeanStepPlayer.java NAME.table.json TAKE.golden.txt ...");
            System.exit(2);
        }
        StringBuilder all = new StringBuilder();
        try {
            for (int at = 0; at < paths.length; at += 2) replay(all, Table.load(Path.of(paths[at])), Path.of(paths[at + 1]));
        } catch (TableException error) {
            System.err.println(error.getMessage());
            System.exit(1);
        }
        System.out.write(all.toString().getBytes(StandardCharsets.UTF_8));
        System.out.flush();
    }

    private static void replay(StringBuilder all, Table table, Path golden) throws IOException {
        LeanStepPlayer player = new LeanStepPlayer(table);
        for (String line : Files.readString(golden, StandardCharsets.UTF_8).split("\n")) {
            if (line.startsWith("out")) continue;
            all.append(line).append('\n');
            if (line.startsWith("in")) {
                String[] words = line.split(" ");
                double[] body = {0.0, 0.0, 90.0, 1.0};
                for (int at = 1; at < words.length; at++) {
                    int mark = words[at].indexOf('=');
                    String given = words[at].substring(mark + 1);
                    if (words[at].startsWith("body=")) {
                        String[] some = given.split(",");
                        for (int one = 0; one < body.length; one++) body[one] = fromBits(some[one]);
                        continue;
                    }
                    int parameter = Integer.parseInt(words[at].substring(0, mark));
                    if (parameter < player.m[HEAD_PLACE]) player.given.put(parameter, fromBits(given));
                }
                player.step();
                player.shape(body[0], body[1], body[2], body[3] != 0.0);
            } else if (!line.equals("begin")) continue;
            all.append(player.told()).append('\n');
        }
    }

    // -- printed from the kernels of the tick --
private static final String[][] COLUMNS = {
  {"parameters", "kind owner first low high"},
  {"sticks", "x y push bearing"},
  {"layers", "start states states_end"},
  {"states", "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still clear turned mode backward face cap fall wide high shapes shapes_end last_shapes last_shapes_end worn worn_end moved moved_end mix_cells mix_cells_end mix_edges mix_edges_end"},
  {"ways", "number target program program_end fade blocks keep uses uses_end shapes shapes_end"},
  {"uses", "buffer ticks"},
  {"acts", "do target value"},
  {"samples", "clip phase places mirrored"},
  {"axes", "parameter round low high step"},
  {"places", "value"},
  {"clips", "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end resting goes keys keys_end actives actives_end reach stun guard_stun freeze strength push"},
  {"cues", "at mark acts acts_end shapes shapes_end cel spots spots_end"},
  {"windows", "start end hold lock span"},
  {"pieces", "start cel"},
  {"cels", "frame mirrored turns looks rects rects_end spots spots_end"},
  {"keys", "at x y ease"},
  {"memories", "within ticks program program_end"},
  {"buffers", "parameter most"},
  {"clocks", "most"},
  {"formulas", "parameter program program_end"},
  {"holds", "parameter"},
  {"programs", "op a b value"},
  {"squashes", "high wide over hold back every by_fall recent whole"},
  {"leans", "speeding turning most share dt signed"},
  {"shapes", "do which"},
  {"countdowns", "parameter"},
  {"actives", "start end window"},
  {"rects", "kind left bottom width height"},
  {"contact", "guards guards_end hit guarded stun strength lands stopped"},
  {"costumes", "parameter value dressed dressed_end"},
  {"dressed", "frame by"},
  {"spots", "pin x y angle behind"},
  {"accessories", "name pin shown shown_end clip clip_end frame angle order"},
  {"moved", "parameter value"},
  {"mix_places", "x y mix_shares mix_shares_end"},
  {"mix_shares", "sample share"},
  {"mix_cells", "first second third"},
  {"mix_edges", "first second"},
  {"posed", "frame figure poses poses_end"},
  {"poses", "part x y turn wide high"},
};
private static final String[] NAMED = {"parameters", "words", "layers", "states", "clips", "frames", "marks", "spans", "locks", "modes"};
private static final int[][] OLDER_WIDTHS = {{5, 4, 3, 14, 9, 2, 3, 3, 5, 1, 19, 4, 5, 2, 3, 4, 4, 2, 1, 3, 1, 4, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}, {5, 4, 3, 23, 9, 2, 3, 4, 5, 1, 19, 4, 5, 2, 4, 4, 4, 2, 1, 3, 1, 4, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}, {5, 4, 3, 27, 11, 2, 3, 4, 5, 1, 19, 6, 5, 2, 4, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}, {5, 4, 3, 27, 11, 2, 3, 4, 5, 1, 27, 6, 5, 2, 6, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}, {5, 4, 3, 29, 11, 2, 3, 4, 5, 1, 27, 6, 5, 2, 6, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0}, {5, 4, 3, 31, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 0, 0, 0, 0, 0, 0}};
private static final int
  ACCESSORY_NAME = 0, ACCESSORY_PIN = 1, ACCESSORY_SHOWN = 2, ACCESSORY_SHOWN_END = 3, ACCESSORY_CLIP = 4, ACCESSORY_CLIP_END = 5,
  ACCESSORY_FRAME = 6, ACCESSORY_ANGLE = 7, ACCESSORY_ORDER = 8, ACCESSORY_SIZE = 9, ACT_DO = 0, ACT_TARGET = 1, ACT_VALUE = 2,
  ACT_SIZE = 3, ACTIVE_START = 0, ACTIVE_END = 1, ACTIVE_WINDOW = 2, ACTIVE_SIZE = 3, AXIS_PARAMETER = 0, AXIS_ROUND = 1,
  AXIS_LOW = 2, AXIS_HIGH = 3, AXIS_STEP = 4, AXIS_SIZE = 5, BUFFER_PARAMETER = 0, BUFFER_MOST = 1, BUFFER_SIZE = 2,
  CEL_FRAME = 0, CEL_MIRRORED = 1, CEL_TURNS = 2, CEL_LOOKS = 3, CEL_RECTS = 4, CEL_RECTS_END = 5, CEL_SPOTS = 6,
  CEL_SPOTS_END = 7, CEL_SIZE = 8, CLIP_LENGTH = 0, CLIP_BEGIN = 1, CLIP_VANISHES = 2, CLIP_PACE = 3, CLIP_AT = 4, CLIP_LOW = 5,
  CLIP_HIGH = 6, CLIP_CUES = 7, CLIP_CUES_END = 8, CLIP_WINDOWS = 9, CLIP_WINDOWS_END = 10, CLIP_PIECES = 11,
  CLIP_PIECES_END = 12, CLIP_CELS = 13, CLIP_CELS_END = 14, CLIP_RESTING = 15, CLIP_GOES = 16, CLIP_KEYS = 17, CLIP_KEYS_END = 18,
  CLIP_ACTIVES = 19, CLIP_ACTIVES_END = 20, CLIP_REACH = 21, CLIP_STUN = 22, CLIP_GUARD_STUN = 23, CLIP_FREEZE = 24,
  CLIP_STRENGTH = 25, CLIP_PUSH = 26, CLIP_SIZE = 27, COMPARE_STACK = 19, CONTACT_GUARDS = 0, CONTACT_GUARDS_END = 1,
  CONTACT_HIT = 2, CONTACT_GUARDED = 3, CONTACT_STUN = 4, CONTACT_STRENGTH = 5, CONTACT_LANDS = 6, CONTACT_STOPPED = 7,
  CONTACT_SIZE = 8, COSTUME_PARAMETER = 0, COSTUME_VALUE = 1, COSTUME_DRESSED = 2, COSTUME_DRESSED_END = 3, COSTUME_SIZE = 4,
  CUE_AT = 0, CUE_MARK = 1, CUE_ACTS = 2, CUE_ACTS_END = 3, CUE_SHAPES = 4, CUE_SHAPES_END = 5, CUE_CEL = 6, CUE_SPOTS = 7,
  CUE_SPOTS_END = 8, CUE_SIZE = 9, DRAWN_WIDE = 0, DRAWN_HIGH = 1, DRAWN_TILT = 2, DRAWN_WHOLE = 3, DRAWN_SQUASH = 4,
  DRAWN_HOLDER = 5, DRAWN_AMOUNT = 6, DRAWN_SINCE = 7, DRAWN_FREED = 8, DRAWN_FROM_WIDE = 9, DRAWN_FROM_HIGH = 10,
  DRAWN_LEANING = 11, DRAWN_FALL = 12, DRAWN_LANDED = 13, DRAWN_VELOCITY = 14, DRAWN_UP = 15, DRAWN_FACING = 16,
  DRAWN_GROUNDED = 17, DRAWN_FREEZE = 18, DRAWN_SIZE = 19, DRESSED_FRAME = 0, DRESSED_BY = 1, DRESSED_SIZE = 2, DUE_ANY = 0,
  DUE_FREEZE = 1, DUE_PUSH = 2, DUE_HIT = 3, DUE_GUARDED = 4, DUE_STUN = 5, DUE_STRENGTH = 6, DUE_LANDS = 7, DUE_STOPPED = 8,
  DUE_SIZE = 9, FIELDS_MODE = 22, FIELDS_PUSH = 23, FIELDS_PUSH_UP = 24, FIELDS_TRAVEL = 30, FIELDS_TRAVEL_UP = 31,
  FIELDS_TRAVELS = 32, FIRST_PLAYER = 3, FORMULA_PARAMETER = 0, FORMULA_PROGRAM = 1, FORMULA_PROGRAM_END = 2, FORMULA_SIZE = 3,
  FROM_TO = 4, GUARD_BOX = 2, HEAD_PARAMETERS = 0, HEAD_STICKS = 2, HEAD_STICKS_END = 3, HEAD_LAYERS = 4, HEAD_LAYERS_END = 5,
  HEAD_STATES = 6, HEAD_WAYS = 8, HEAD_WAYS_END = 9, HEAD_SAMPLES = 14, HEAD_PLACES = 18, HEAD_CLIPS = 20, HEAD_CUES = 22,
  HEAD_WINDOWS = 24, HEAD_WINDOWS_END = 25, HEAD_MEMORIES = 32, HEAD_MEMORIES_END = 33, HEAD_BUFFERS = 34, HEAD_BUFFERS_END = 35,
  HEAD_CLOCKS = 36, HEAD_CLOCKS_END = 37, HEAD_FORMULAS = 38, HEAD_FORMULAS_END = 39, HEAD_HOLDS = 40, HEAD_HOLDS_END = 41,
  HEAD_SQUASHES = 44, HEAD_SQUASHES_END = 45, HEAD_LEANS = 46, HEAD_LEANS_END = 47, HEAD_COUNTDOWNS = 50,
  HEAD_COUNTDOWNS_END = 51, HEAD_CONTACT = 56, HEAD_CONTACT_END = 57, HEAD_COSTUMES = 58, HEAD_COSTUMES_END = 59, HEAD_SPOTS = 62,
  HEAD_SPOTS_END = 63, HEAD_ACCESSORIES = 64, HEAD_ACCESSORIES_END = 65, HEAD_POSED = 76, HEAD_POSED_END = 77, HEAD_PULSES = 80,
  HEAD_PULSES_END = 81, HEAD_BUTTONS = 82, HEAD_BUTTONS_END = 83, HEAD_LAYER_COUNT = 84, HEAD_COUNTERS = 85, HEAD_AGES = 86,
  HEAD_SINCE = 87, HEAD_HELD = 88, HEAD_RAISED = 89, HEAD_LOCKS = 90, HEAD_SPANS = 91, HEAD_SPANS_END = 92, HEAD_REMEMBERED = 93,
  HEAD_HELD_NOW = 94, HEAD_HELD_BEFORE = 95, HEAD_CHANGED = 96, HEAD_COUNTS = 97, HEAD_PLACE = 98, HEAD_KEPT = 99,
  HEAD_STACK = 100, HEAD_VALUES = 101, HEAD_MOST_TOLD = 102, HEAD_SIZE = 104, HELD_FOR = 0, HELD_SQUASH = 1, HELD_LEAN = 4,
  KEY_AT = 0, KEY_SIZE = 4, LAYER_START = 0, LAYER_STATES = 1, LAYER_STATES_END = 2, LAYER_SIZE = 3, LEAN_SPEEDING = 0,
  LEAN_TURNING = 1, LEAN_MOST = 2, LEAN_SHARE = 3, LEAN_DT = 4, LEAN_SIGNED = 5, LEAN_SIZE = 6, LET_GO = 2, MEMORY_WITHIN = 0,
  MEMORY_TICKS = 1, MEMORY_PROGRAM = 2, MEMORY_PROGRAM_END = 3, MEMORY_LASTS = 4, MEMORY_SIZE = 5, MIX_SHARE_SAMPLE = 0,
  MIX_CELL_FIRST = 0, MIX_PLACE_X = 0, MIX_EDGE_FIRST = 0, MIX_SHARE_SHARE = 1, MIX_CELL_SECOND = 1, MIX_PLACE_Y = 1,
  MIX_EDGE_SECOND = 1, MIX_PLACE_MIX_SHARES = 2, MIX_SHARE_SIZE = 2, MIX_CELL_THIRD = 2, MIX_EDGE_SIZE = 2,
  MIX_PLACE_MIX_SHARES_END = 3, MIX_CELL_SIZE = 3, MOVED_PARAMETER = 0, MOVED_VALUE = 1, MOVED_SIZE = 2, NAMED_PARAMETERS = 0,
  NAMED_WORDS = 1, NAMED_LAYERS = 2, NAMED_STATES = 3, NAMED_CLIPS = 4, NAMED_SPANS = 7, NAMED_LOCKS = 8, NOW_TICK = 0,
  NOW_LOCKED = 1, NOW_FREEZE = 2, OP_NUMBER = 0, OP_PARAMETER = 1, OP_PRESSED = 2, OP_RELEASED = 3, OP_STAY = 4, OP_SINCE = 5,
  OP_BUFFERED = 6, OP_SPAN = 9, OP_MEMORY = 11, OP_NOT = 12, OP_COMPARE = 13, OP_COMPUTE = 14, OP_SKIP_FALSE = 15,
  OP_SKIP_TRUE = 16, OPERATOR_COUNT = 10, OVER_BY = 3, PARAMETER_KIND = 0, PARAMETER_OWNER = 1, PARAMETER_FIRST = 2,
  PARAMETER_LOW = 3, PARAMETER_HIGH = 4, PARAMETER_SIZE = 5, PART_POSE_PART = 0, PART_POSE_X = 1, PART_POSE_Y = 2,
  PART_POSE_TURN = 3, PART_POSE_WIDE = 4, PART_POSE_HIGH = 5, PART_POSE_SIZE = 6, PARTED_LAYER = 0, PARTED_PART = 1, PARTED_X = 2,
  PARTED_Y = 3, PARTED_TURN = 4, PARTED_WIDE = 5, PARTED_HIGH = 6, PARTED_SIZE = 7, PIECE_START = 0, PIECE_CEL = 1,
  PIECE_SIZE = 2, PINNED_NAME = 0, PINNED_LAYER = 1, PINNED_BEHIND = 2, PINNED_FRAME = 3, PINNED_MIRRORED = 4, PINNED_X = 5,
  PINNED_Y = 6, PINNED_TURN = 7, PINNED_SIZE = 8, PLACED_NUMBER = 0, PLACED_PIN = 1, PLACED_X = 2, PLACED_Y = 3, PLACED_ANGLE = 4,
  PLACED_BEHIND = 5, PLACED_SIZE = 6, PLAYER_STATE = 0, PLAYER_STAY = 1, PLAYER_HEAD = 2, PLAYER_PICK = 3, PLAYER_OVER = 4,
  PLAYER_FADE_STATE = 5, PLAYER_FADE_PICK = 6, PLAYER_FADE_HEAD = 7, PLAYER_FADE_LEFT = 8, PLAYER_FADE_BLOCKS = 9,
  PLAYER_SIZE = 10, POSED_FRAME = 0, POSED_FIGURE = 1, POSED_POSES = 2, POSED_POSES_END = 3, POSED_SIZE = 4, PULSE_SIZE = 2,
  PUSH_UP = 8, PUSH_NUMBER = 14, PUSH_VALUE = 15, PUSH_STAY = 16, PUSH_SINCE = 17, RECT_KIND = 0, RECT_LEFT = 1, RECT_BOTTOM = 2,
  RECT_WIDTH = 3, RECT_HEIGHT = 4, RECT_SIZE = 5, ROW_OR_NONE = 6, SAMPLE_CLIP = 0, SAMPLE_PHASE = 1, SAMPLE_PLACES = 2,
  SAMPLE_MIRRORED = 3, SAMPLE_SIZE = 4, SECTION_COUNT = 40, SEEN_WITHIN = 1, SHAPE_DO = 0, SHAPE_WHICH = 1, SHAPE_SIZE = 2,
  SIGN_COUNT = 6, SPOT_PIN = 0, SPOT_X = 1, SPOT_Y = 2, SPOT_ANGLE = 3, SPOT_BEHIND = 4, SPOT_SIZE = 5, SQUASH_HIGH = 0,
  SQUASH_WIDE = 1, SQUASH_OVER = 2, SQUASH_HOLD = 3, SQUASH_BACK = 4, SQUASH_EVERY = 5, SQUASH_BY_FALL = 6, SQUASH_RECENT = 7,
  SQUASH_WHOLE = 8, SQUASH_SIZE = 9, STATE_WAYS = 0, STATE_WAYS_END = 1, STATE_ENTRY = 2, STATE_ENTRY_END = 3, STATE_LEAVE = 4,
  STATE_LEAVE_END = 5, STATE_SAMPLES = 6, STATE_SAMPLES_END = 7, STATE_AXES = 8, STATE_AXES_END = 9, STATE_BLENDS = 10,
  STATE_STICKY = 11, STATE_CLOCK = 12, STATE_STILL = 13, STATE_CLEAR = 14, STATE_TURNED = 15, STATE_MODE = 16,
  STATE_BACKWARD = 17, STATE_FACE = 18, STATE_CAP = 19, STATE_FALL = 20, STATE_WIDE = 21, STATE_HIGH = 22, STATE_SHAPES = 23,
  STATE_SHAPES_END = 24, STATE_LAST_SHAPES = 25, STATE_LAST_SHAPES_END = 26, STATE_WORN = 27, STATE_WORN_END = 28,
  STATE_MOVED = 29, STATE_MOVED_END = 30, STATE_MIX_CELLS = 31, STATE_MIX_CELLS_END = 32, STATE_MIX_EDGES = 33,
  STATE_MIX_EDGES_END = 34, STATE_SIZE = 35, STEP_OP = 0, STEP_A = 1, STEP_B = 2, STEP_VALUE = 3, STEP_YES = 4, STEP_NO = 5,
  STEP_SIZE = 6, STICK_PUSH = 2, STICK_BEARING = 3, STICK_SIZE = 4, STRIKE_BOX = 0, TOLD_SIZE = 6, USE_BUFFER = 0, USE_TICKS = 1,
  USE_SIZE = 2, VULNERABLE_BOX = 1, WAY_NUMBER = 0, WAY_TARGET = 1, WAY_PROGRAM = 2, WAY_PROGRAM_END = 3, WAY_FADE = 4,
  WAY_BLOCKS = 5, WAY_KEEP = 6, WAY_USES = 7, WAY_USES_END = 8, WAY_SHAPES = 9, WAY_SHAPES_END = 10, WAY_SIZE = 11,
  WINDOW_START = 0, WINDOW_END = 1, WINDOW_HOLD = 2, WINDOW_LOCK = 3, WINDOW_SPAN = 4, WINDOW_SIZE = 5;
private static final int
  BEARING = 2, CHOICE = 4, WHOLE = 1, TICK = 65536, AT = 0, EASE = 3, IN = 1, OUT = 2, BOTH = 3, LESS = 1, EQUAL = 2, GREATER = 4,
  NEITHER = 8, PLUS = 0, MINUS = 1, TIMES = 2, ABSOLUTE = 4, NEGATIVE = 5, TURN = 8, DIRECTION = 9, LEAST = 6, COMPARED = 4,
  ON = 1, STAYED = 6, PRESSED = 2, RELEASED = 3, REMEMBERED = 13, BUFFERED = 7, SINCE = 8, DONE = 9, SHARE = 10, SPAN = 11,
  ACTIVE = 12, PAIR = 5, CONSTANT = 0, COMPUTE = 18, TRUE = -1, TOLD = 2, LEANED = 3, WITHIN = 11, FINITE = 1, INTEGER = 2,
  TIME = 3, ROW = 5, ADDRESS = 7, NAME = 8, FIRST = 9, END = 10, RAISE = 2, PARAMETERS = 0, LOCK = 3, UNLOCK = 4, FREEZE = 5,
  MOST_MARKS = 10000, CUES = 11, PIECES = 13, KEYS = 15, SAMPLES = 7, CLIPS = 10, PLACES = 9, SQUASHES = 22, LEANS = 23,
  SHAPES = 24, SQUASHED = 0, CLOCKS = 18, BUFFERS = 17, MEMORIES = 16, LAYERS = 2, PROGRAMS = 21, AMOUNT = 1, TRUTH = 2,
  EITHER = 0, WAYS = 4, FORMULAS = 19, CONTACTS = 28, ACCESSORIES = 32, STATES = 3, AXES = 8, ACTS = 6, PULSE = 5, GRAPH = 3,
  BUTTON = 6, PLAYED = 35, STICKS = 1, FALSE = -2, SET = 0, ADD = 1, MODE = 6, PUSH = 7, X = 1, Y = 2, VERSION = 7, NUMBER = 0,
  WINDOWS = 12;
private static final long NEVER = 1152921504606846976L;
private static final long EXACT = 9007199254740992L;
private static final long LONGEST = 2147483648L;
private static final double RADIAN = 0.017453292519943295;
private static final double FARTHEST = 1e+308;
private static final double FASTEST = 1000.0;
private static final double[] SERIES = {
  1.397458036904447, -1.4691225516174955, 1.5485345814346574, -1.6370222718023522, 1.7362357428206765, -1.8482509520349137,
  1.9757165349338732, -2.1220659078919377, 2.291831180523293, -2.4911208483948837, 2.72837045300392, -3.0155673427938066,
  3.3703399713577835, -3.819718634205488, 4.407367654852487, -5.208707228462029, 6.366197723675814, -8.18511135901176,
  11.459155902616464, -19.098593171027442, 57.29577951308232
};
private static final double[] SINES = {
  -8.22063524662433e-18, 2.8114572543455206e-15, -7.647163731819816e-13, 1.6059043836821613e-10, -2.505210838544172e-08,
  2.7557319223985893e-06, -0.0001984126984126984, 0.008333333333333333, -0.16666666666666666, 1.0
};
private static final double[] COSINES = {
  -1.5619206968586225e-16, 4.779477332387385e-14, -1.1470745597729725e-11, 2.08767569878681e-09, -2.755731922398589e-07,
  2.48015873015873e-05, -0.001388888888888889, 0.041666666666666664, -0.5, 1.0
};
private static final long[] WIDTHS = {
  5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
};
private static final long[] SIZES = {
  5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 5, 2, 1, 3, 1, 6, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
};
private static final long[] RULE = {
  4, 4, 1, 1, 1, 5, 5, 5, 5, 5, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 4, 1, 6, 4, 4, 4, 4, 4, 1, 1, 1, 1, 1, 9, 10, 9, 10, 9,
  10, 9, 10, 9, 10, 9, 10, 2, 5, 9, 10, 3, 4, 4, 9, 10, 9, 10, 5, 3, 4, 2, 1, 7, 3, 3, 4, 6, 4, 1, 1, 1, 0, 3, 2, 4, 6, 1, 1, 1,
  9, 10, 9, 10, 9, 10, 9, 10, 2, 4, 9, 10, 9, 10, 4, 3, 3, 3, 1, 1, 3, 8, 9, 10, 9, 10, 3, 9, 10, 2, 2, 6, 4, 8, 3, 3, 8, 4, 4, 4,
  9, 10, 9, 10, 1, 1, 1, 4, 4, 3, 9, 10, 11, 5, 3, 3, 5, 9, 10, 5, 4, 2, 2, 1, 11, 11, 1, 0, 1, 0, 1, 1, 1, 1, 4, 1, 1, 1, 1, 1,
  4, 4, 2, 5, 2, 2, 3, 4, 1, 1, 1, 1, 9, 10, 6, 6, 6, 6, 6, 6, 6, 1, 9, 10, 8, 8, 8, 1, 1, 1, 4, 8, 8, 9, 10, 9, 10, 8, 1, 4, 5,
  1, 1, 1, 9, 10, 3, 1, 7, 7, 7, 7, 7, 8, 3, 9, 10, 8, 1, 1, 1, 1, 1
};
private static final long[] ABOUT = {
  6, 4, 0, 0, 0, 0, 0, 0, 0, 3, 3, 0, 4, 0, 6, 0, 6, 0, 7, 0, 8, 0, 1, 0, 18, 1, 1, 1, 4, 1, 0, 0, 0, 0, 0, 24, 0, 24, 0, 29, 0,
  33, 0, 36, 0, 37, 0, 0, 3, 21, 0, 0, 1, 1, 5, 0, 24, 0, 17, 0, 8, 0, 0, 10, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 11,
  0, 12, 0, 13, 0, 14, 0, 0, 7, 15, 0, 26, 0, 1, 0, 0, 0, 0, 0, 0, 6, 6, 0, 24, 0, 0, 31, 0, 0, 0, 0, 1, 7, 0, 0, 5, 1, 3, 2, 27,
  0, 31, 0, 0, 0, 0, 3, 1, 0, 21, 0, 0, 0, 0, 0, 0, 21, 0, 0, 16, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 4,
  0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 21, 0, 0, 0, 0, 0, 0, 0, 0, 0, 30, 0, 5, 5, 1, 0, 0, 0, 1, 1, 1, 21, 0, 10, 0, 5, 0, 2, 0, 0, 0,
  0, 35, 0, 0, 0, 34, 34, 34, 34, 34, 5, 0, 39, 0, 1, 0, 0, 0, 0, 0
};
private static final long[] TAKES = {
  2, 2, 2, 2, 1, 1, 0, 0, 2, 1
};
private static final long[] STANDS = {
  1, 3, 2, 13, 4, 6
};
private static final long[] LAID = {
  0, 1, 2, 3, 16, 17, 7, 9, 10, 11, 12, 13
};
private static final long[] REAL = {
  0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 1, 1, 1, 1, 1
};

// The bearing of a vector with y up; exact for the eight main directions, within 1e-12 degrees else; 0 for no vector.
private static double bearingOf(double x, double y) {
    double wide = Math.abs(x), high = Math.abs(y);
    if (!(wide > 0.0 || high > 0.0)) return 0.0;
    double share = wide <= high ? wide / high : high / wide;
    boolean isNear = share > 0.41421356237309503;
    double rest = isNear ? (share - 1.0) / (share + 1.0) : share;
    double square = rest * rest, total = 0.0;
    for (long number = 0; number < 21; number++) {
        double factor = SERIES[(int) number];
        total = total * square + factor;
    }
    double angle = total * rest;
    if (isNear) angle = 45.0 + angle;
    if (wide > high) angle = 90.0 - angle;
    if (y < 0.0) angle = 180.0 - angle;
    if (x < 0.0) angle = 360.0 - angle;
    return angle < 360.0 ? angle : 0.0;
}

// How far a stick is pushed, from 0 to 1.
private static double pushOf(double x, double y) {
    double length = Math.sqrt(x * x + y * y);
    return (1.0 < length ? 1.0 : length);
}

// Where a layer's active state begins.
private static long stateOf(long[] m, long[] z, long layer) {
    return m[HEAD_STATES] + z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STATE)] * STATE_SIZE;
}

// Where the clip begins that a layer shows; -1 when it shows none.
private static long clipOf(long[] m, long[] z, long layer) {
    long state = stateOf(m, z, layer);
    long first = m[(int) (state + STATE_SAMPLES)];
    if (first == m[(int) (state + STATE_SAMPLES_END)]) return -1;
    return m[(int) (first + z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK)] * SAMPLE_SIZE + SAMPLE_CLIP)];
}

// Whether a layer's clip is done: it repeats and has wrapped since entry, or stands at its length.
private static boolean isDone(long[] m, long[] z, long layer) {
    long clip = clipOf(m, z, layer);
    if (clip < 0) return false;
    long player = FIRST_PLAYER + layer * PLAYER_SIZE;
    if (m[(int) (clip + CLIP_BEGIN)] < 0) return z[(int) (player + PLAYER_HEAD)] >= m[(int) (clip + CLIP_LENGTH)];
    return z[(int) (player + PLAYER_OVER)] != 0;
}

// Whether a layer's playhead is at or past a share of its clip.
private static boolean isAt(long[] m, long[] z, long layer, double share) {
    long clip = clipOf(m, z, layer);
    return clip >= 0 && z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD)] >= share * m[(int) (clip + CLIP_LENGTH)];
}

// A number of degrees as a bearing, from 0 to below 360; what is no finite number is 0.
private static double reduced(double value) {
    if (!(-1000000000000000.0 < value && value < 1000000000000000.0)) return 0.0;
    double turned = value - 360.0 * Math.floor(value / 360.0);
    return 0.0 < turned && turned < 360.0 ? turned : 0.0;
}

// A value brought into a parameter's kind and range; a choice stays what it is.
private static double fitted(long[] m, double[] r, long parameter, double value) {
    long one = m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE;
    long kind = m[(int) (one + PARAMETER_KIND)];
    if (kind > BEARING) {
        if (kind == CHOICE) return value;
        return value != 0.0 ? 1.0 : 0.0;
    }
    if (kind == BEARING) return reduced(value);
    if (r[(int) (one + PARAMETER_LOW)] > value) value = r[(int) (one + PARAMETER_LOW)];
    if (r[(int) (one + PARAMETER_HIGH)] < value) value = r[(int) (one + PARAMETER_HIGH)];
    return kind == WHOLE ? Math.rint(value) + 0.0 : value;
}

// The playhead units that one tick adds.
private static long paceOf(long[] m, double[] r, double[] v, long clip) {
    if (m[(int) (clip + CLIP_PACE)] < 0) return TICK;
    double rate = v[(int) m[(int) (clip + CLIP_PACE)]] / r[(int) (clip + CLIP_AT)];
    if (!(rate >= r[(int) (clip + CLIP_LOW)])) rate = r[(int) (clip + CLIP_LOW)];
    else if (rate > r[(int) (clip + CLIP_HIGH)]) rate = r[(int) (clip + CLIP_HIGH)];
    return (long) Math.floor(rate * TICK + 0.5);
}

// A playhead brought into its clip: past the length it is somewhere in what repeats, or at the length.
private static long folded(long[] m, long clip, long head) {
    long length = m[(int) (clip + CLIP_LENGTH)], back = m[(int) (clip + CLIP_BEGIN)];
    if (head < length) return head;
    return back < 0 ? length : back + (head - back) % (length - back);
}

// The number of the cel a clip shows at a playhead; -1: none.
private static long celAt(long[] m, long clip, long head) {
    long piece = m[(int) (clip + CLIP_PIECES)], end = m[(int) (clip + CLIP_PIECES_END)], length = m[(int) (clip + CLIP_LENGTH)];
    if (piece == end || (m[(int) (clip + CLIP_VANISHES)] != 0 && head >= length)) return -1;
    head = folded(m, clip, head);
    head = (length - 1 < head ? length - 1 : head);
    while (piece + PIECE_SIZE < end && m[(int) (piece + PIECE_SIZE + PIECE_START)] <= head) piece += PIECE_SIZE;
    return m[(int) (piece + PIECE_CEL)];
}

// The number of the cel a clip shows at a playhead, its resting one while it stands; -1: none.
private static long celShown(long[] m, double[] r, double[] v, long clip, long head) {
    if (m[(int) (clip + CLIP_RESTING)] >= 0 && paceOf(m, r, v, clip) == 0) return m[(int) (clip + CLIP_RESTING)];
    return celAt(m, clip, head);
}

// The number of the cel a layer shows, counted from its clip's first; -1: none.
private static long celOf(long[] m, double[] r, long[] z, double[] v, long layer) {
    long clip = clipOf(m, z, layer);
    return clip >= 0 ? celShown(m, r, v, clip, z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD)]) : -1;
}

// Where a cel of the clip begins that a layer shows.
private static long celRow(long[] m, long[] z, long layer, long cel) {
    return m[(int) (clipOf(m, z, layer) + CLIP_CELS)] + cel * CEL_SIZE;
}

// How fast to turn, to be at most or to fall, or how wide or high to be, as what (a column of states) says; 0: nothing is asked.
private static double requested(long[] m, double[] r, long[] z, long what) {
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        double asked = r[(int) (stateOf(m, z, layer) + what)];
        if (asked > 0.0) return asked;
    }
    return 0.0;
}

// How to move, as the number of a mode; 0: nothing is asked.
private static long requestedMode(long[] m, long[] z) {
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long mode = m[(int) (stateOf(m, z, layer) + STATE_MODE)];
        if (mode != 0) return mode;
    }
    return 0;
}

// Whether the body may move against its facing.
private static boolean goesBackward(long[] m, long[] z) {
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        if (m[(int) (stateOf(m, z, layer) + STATE_BACKWARD)] != 0) return true;
    }
    return false;
}

// The layer to begin to draw with: from it on each that shows a cel is drawn, the last in front; -1: nothing is shown.
private static long lowestSeen(long[] m, double[] r, long[] z, double[] v) {
    long seen = -1;
    for (long back = 0; back < m[HEAD_LAYER_COUNT]; back++) {
        long layer = m[HEAD_LAYER_COUNT] - 1 - back;
        if (celOf(m, r, z, v, layer) >= 0) {
            seen = layer;
            if (m[(int) (stateOf(m, z, layer) + STATE_CLEAR)] == 0) return seen;
        }
    }
    return seen;
}

// Whether a state turns a cel (its row) to where the figure looks, which may be left.
private static boolean turnsRound(long[] m, long state, long row, boolean left) {
    long looks = m[(int) (row + CEL_LOOKS)];
    if (looks == 0) return false;
    if (m[(int) (state + STATE_TURNED)] == 0) return looks == 2;
    return left != (looks == 2);
}

// Whether a cel (its row) of a state's sample is drawn the other way round.
private static boolean isFlipped(long[] m, long state, long sample, long row, boolean left) {
    boolean mirrored = m[(int) (row + CEL_MIRRORED)] != m[(int) (sample + SAMPLE_MIRRORED)];
    return mirrored != turnsRound(m, state, row, left);
}

// Whether a cel of the clip that a layer shows is drawn the other way round.
private static boolean isMirrored(long[] m, long[] z, long layer, long cel, boolean left) {
    long sample = m[(int) (stateOf(m, z, layer) + STATE_SAMPLES)] + z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK)] * SAMPLE_SIZE;
    return isFlipped(m, stateOf(m, z, layer), sample, celRow(m, z, layer, cel), left);
}

// Whether a cel of the clip that a layer shows is turned to where the figure looks, which may be left.
private static boolean isTurned(long[] m, long[] z, long layer, long cel, boolean left) {
    return turnsRound(m, stateOf(m, z, layer), celRow(m, z, layer, cel), left);
}

// By how many quarter turns clockwise it is turned, after it has been mirrored.
private static long quarterTurns(long[] m, long[] z, long layer, long cel, boolean left) {
    long turns = m[(int) (celRow(m, z, layer, cel) + CEL_TURNS)];
    return isTurned(m, z, layer, cel, left) ? (4 - turns) % 4 : turns;
}

// The costume that a layer wears; -1: none.
private static long worn(long[] m, double[] r, long[] z, double[] v, long layer) {
    long state = stateOf(m, z, layer);
    if (m[(int) (state + STATE_WORN)] < m[(int) (state + STATE_WORN_END)]) return m[(int) (state + STATE_WORN)];
    for (long costume = m[HEAD_COSTUMES]; costume < m[HEAD_COSTUMES_END]; costume += COSTUME_SIZE) {
        long parameter = m[(int) (costume + COSTUME_PARAMETER)];
        if (parameter >= 0 && v[(int) parameter] == r[(int) (costume + COSTUME_VALUE)]) return costume;
    }
    return -1;
}

// The frame that is drawn in place of one in the costume that a layer wears.
private static long dressed(long[] m, double[] r, long[] z, double[] v, long layer, long frame) {
    long costume = worn(m, r, z, v, layer);
    if (costume >= 0) {
        for (long row = m[(int) (costume + COSTUME_DRESSED)]; row < m[(int) (costume + COSTUME_DRESSED_END)]; row += DRESSED_SIZE) {
            if (m[(int) (row + DRESSED_FRAME)] == frame) return m[(int) (row + DRESSED_BY)];
        }
    }
    return frame;
}

// The frame that a cel of the clip which a layer shows is drawn as: its own, or that of the costume worn.
private static long frameOf(long[] m, double[] r, long[] z, double[] v, long layer, long cel) {
    return dressed(m, r, z, v, layer, m[(int) (celRow(m, z, layer, cel) + CEL_FRAME)]);
}

// Where a path laid out in r is at a playhead, ahead (X) or up (Y).
private static double place(double[] r, long begin, long end, long head, long which) {
    long key = begin;
    while (key + KEY_SIZE < end && r[(int) (key + KEY_SIZE + AT)] <= head) key += KEY_SIZE;
    long after = key + KEY_SIZE;
    if (after >= end || head <= r[(int) (key + AT)]) return r[(int) (key + which)];
    double t = (head - r[(int) (key + AT)]) / (r[(int) (after + AT)] - r[(int) (key + AT)]);
    long ease = (long) r[(int) (after + EASE)];
    if (ease == IN) t = t * t;
    else if (ease == OUT) t = t * (2.0 - t);
    else if (ease == BOTH) t = t * t * (3.0 - 2.0 * t);
    return r[(int) (key + which)] + (r[(int) (after + which)] - r[(int) (key + which)]) * t;
}

// How far a path that moves only the drawing has taken it, ahead (1) or up (2).
private static double aside(long[] m, double[] r, long[] z, long layer, long which) {
    long clip = clipOf(m, z, layer);
    if (clip < 0 || m[(int) (clip + CLIP_GOES)] != 0 || m[(int) (clip + CLIP_KEYS)] == m[(int) (clip + CLIP_KEYS_END)]) return 0.0;
    long head = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD)];
    return place(r, m[(int) (clip + CLIP_KEYS)], m[(int) (clip + CLIP_KEYS_END)], head, which);
}

// How far right a step of length 1 along a bearing goes; exact along the axes.
private static double across(double bearing) {
    double folded = bearing <= 90.0 ? bearing : bearing <= 270.0 ? 180.0 - bearing : bearing - 360.0;
    if (folded == 90.0) return 1.0;
    if (folded == -90.0) return -1.0;
    double flat = -45.0 <= folded && folded <= 45.0 ? folded : folded > 0.0 ? 90.0 - folded : -90.0 - folded;
    double angle = flat * RADIAN;
    double square = angle * angle, total = 0.0;
    if (flat == folded) {
        for (long number = 0; number < 10; number++) {
            double factor = SINES[(int) number];
            total = total * square + factor;
        }
        return total * angle;
    }
    for (long number = 0; number < 10; number++) {
        double factor = COSINES[(int) number];
        total = total * square + factor;
    }
    return folded > 0.0 ? total : -total;
}

// How far up a step of length 1 along a bearing goes; exact along the axes.
private static double along(double bearing) {
    double shifted = bearing + 90.0;
    return across(shifted < 360.0 ? shifted : shifted - 360.0);
}

// Write from place at on where a pin point comes to lie: across, up, and a bearing.
private static void placeSpot(double[] r, long spot, boolean mirrored, long turns, double wide, double high, double tilt, double[] b, long at) {
    double x = r[(int) (spot + SPOT_X)], y = r[(int) (spot + SPOT_Y)], angle = r[(int) (spot + SPOT_ANGLE)];
    if (mirrored) {
        x = 0.0 - x;
        angle = reduced(360.0 - angle);
    }
    for (long again = 0; again < turns; again++) {
        double back = 0.0 - x;
        x = y;
        y = back;
        angle = reduced(angle + 90.0);
    }
    if (wide != high) angle = bearingOf(across(angle) * wide, along(angle) * high);
    x = x * wide;
    y = y * high;
    if (tilt != 0.0) {
        double leaned = reduced(tilt);
        double right = across(leaned), up = along(leaned);
        double to = x * up + y * right;
        y = y * up - x * right;
        x = to;
        angle = reduced(angle + tilt);
    }
    b[(int) at] = x;
    b[(int) (at + 1)] = y;
    b[(int) (at + 2)] = angle;
}

// Write down the pin points of the layers that are seen, from the back to the front, in rows of b; how many there are.
private static long listPins(long[] m, double[] r, long[] z, double[] v, boolean left, double wide, double high, double tilt, double[] b) {
    long count = 0, lowest = lowestSeen(m, r, z, v);
    if (lowest < 0 || m[HEAD_SPOTS] == m[HEAD_SPOTS_END]) return 0;
    for (long layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long cel = celOf(m, r, z, v, layer);
        if (cel < 0) continue;
        long row = celRow(m, z, layer, cel);
        boolean mirrored = isMirrored(m, z, layer, cel, left);
        long turns = quarterTurns(m, z, layer, cel, left);
        for (long spot = m[(int) (row + CEL_SPOTS)]; spot < m[(int) (row + CEL_SPOTS_END)]; spot += SPOT_SIZE) {
            long at = count * PLACED_SIZE;
            b[(int) (at + PLACED_NUMBER)] = (double) layer;
            b[(int) (at + PLACED_PIN)] = (double) m[(int) (spot + SPOT_PIN)];
            placeSpot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED_X);
            b[(int) (at + PLACED_BEHIND)] = (double) m[(int) (spot + SPOT_BEHIND)];
            count += 1;
        }
    }
    return count;
}

// The pin point of a cel (its row) to which an accessory is pinned; -1: none.
private static long pinnedAt(long[] m, long row, long accessory) {
    for (long spot = m[(int) (row + CEL_SPOTS)]; spot < m[(int) (row + CEL_SPOTS_END)]; spot += SPOT_SIZE) {
        if (m[(int) (spot + SPOT_PIN)] == m[(int) (accessory + ACCESSORY_PIN)]) return spot;
    }
    return -1;
}

// Whether an accessory is drawn behind the figure at a pin point.
private static boolean liesBehind(long[] m, long accessory, long spot) {
    long order = m[(int) (accessory + ACCESSORY_ORDER)];
    return order == 2 || (order == 0 && m[(int) (spot + SPOT_BEHIND)] != 0);
}

// Whether two numbers stand to each other in one of the ways of sign; without a branch that could be guessed wrong.
private static boolean compared(long sign, double left, double right) {
    boolean less = left < right, equal = left == right, greater = left > right;
    long stands = (less ? 1 : 0) * LESS | (equal ? 1 : 0) * EQUAL | (greater ? 1 : 0) * GREATER | (!(less | equal | greater) ? 1 : 0) * NEITHER;
    return (stands & sign) != 0;
}

// The shorter way from one bearing to another, in degrees, above -180 to 180; clockwise is positive.
private static double turn(double start, double end) {
    double way = end - start;
    if (way > 180.0) return way - 360.0;
    if (way <= -180.0) return way + 360.0;
    return way;
}

// One arithmetic step in IEEE doubles, on numbers that lie on the stack; a division by zero gives 0.
private static double computed(long sign, double[] v, long begin, long end) {
    double first = v[(int) begin];
    if (sign == PLUS) return first + v[(int) (begin + 1)];
    if (sign == MINUS) return first - v[(int) (begin + 1)];
    if (sign == TIMES) return first * v[(int) (begin + 1)];
    if (sign == OVER_BY) return v[(int) (begin + 1)] != 0.0 ? first / v[(int) (begin + 1)] : 0.0;
    if (sign == ABSOLUTE) return Math.abs(first);
    if (sign == NEGATIVE) return -first;
    if (sign == TURN) return turn(first, v[(int) (begin + 1)]);
    if (sign == DIRECTION) return reduced(first);
    for (long at = begin + 1; at < end; at++) {
        if (sign == LEAST ? v[(int) at] < first : v[(int) at] > first) first = v[(int) at];
    }
    return first;
}

// Run a program from an instruction on.
private static boolean run(long[] m, double[] r, long[] z, double[] v, long at) {
    long top = m[HEAD_STACK];
    while (at >= 0) {
        long op = m[(int) (at + STEP_OP)], a = m[(int) (at + STEP_A)], b = m[(int) (at + STEP_B)];
        boolean holds = true;
        if (op == COMPARED) holds = compared(b, v[(int) a], r[(int) (at + STEP_VALUE)]);
        else if (op == ON) holds = v[(int) a] != 0.0;
        else if (op == STAYED) {
            holds = compared(b, z[(int) (FIRST_PLAYER + a * PLAYER_SIZE + PLAYER_STAY)], r[(int) (at + STEP_VALUE)]);
        } else if (op == PRESSED) holds = v[(int) a] != 0.0 && z[(int) (m[HEAD_HELD] + a)] == 0;
        else if (op == RELEASED) holds = v[(int) a] == 0.0 && z[(int) (m[HEAD_HELD] + a)] != 0;
        else if (op == REMEMBERED) holds = z[(int) (m[HEAD_REMEMBERED] + a)] != 0;
        else if (op == BUFFERED) {
            long age = z[(int) (m[HEAD_AGES] + a)];
            holds = age >= 0 && age < r[(int) (at + STEP_VALUE)];
        } else if (op == SINCE) {
            long age = z[(int) (m[HEAD_SINCE] + a)];
            holds = compared(b, age >= 0 ? age : NEVER, r[(int) (at + STEP_VALUE)]);
        } else if (op == DONE) holds = isDone(m, z, a);
        else if (op == SHARE) holds = isAt(m, z, a, r[(int) (at + STEP_VALUE)]);
        else if (op == SPAN) holds = z[(int) (m[HEAD_SPANS] + a)] != 0;
        else if (op == ACTIVE) holds = z[(int) (FIRST_PLAYER + a * PLAYER_SIZE + PLAYER_STATE)] == b;
        else if (op == PAIR) holds = compared(b, v[(int) a], v[(int) m[(int) (at + STEP_SIZE + STEP_A)]]);
        else if (op == CONSTANT) holds = r[(int) (at + STEP_VALUE)] != 0.0;
        else if (op == PUSH_VALUE) {
            v[(int) top] = v[(int) a];
            top += 1;
        } else if (op == PUSH_NUMBER) {
            v[(int) top] = r[(int) (at + STEP_VALUE)];
            top += 1;
        } else if (op == PUSH_STAY) {
            v[(int) top] = z[(int) (FIRST_PLAYER + a * PLAYER_SIZE + PLAYER_STAY)];
            top += 1;
        } else if (op == PUSH_SINCE) {
            long age = z[(int) (m[HEAD_SINCE] + a)];
            v[(int) top] = age >= 0 ? age : NEVER;
            top += 1;
        } else if (op == COMPUTE) {
            top -= b - 1;
            v[(int) (top - 1)] = computed(a, v, top - 1, top - 1 + b);
        } else if (op == COMPARE_STACK) {
            top -= 2;
            holds = compared(b, v[(int) top], v[(int) (top + 1)]);
        }
        at = holds ? m[(int) (at + STEP_YES)] : m[(int) (at + STEP_NO)];
    }
    return at == TRUE;
}

// The row of the cel that an accessory shows beside a layer, of one that shows a clip; -1: none.
private static long accessoryCel(long[] m, long[] z, long accessory, long layer) {
    long clip = m[(int) (accessory + ACCESSORY_CLIP)];
    long stay = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STAY)];
    long cel = celAt(m, clip, folded(m, clip, stay * TICK));
    return cel >= 0 ? m[(int) (clip + CLIP_CELS)] + cel * CEL_SIZE : -1;
}

// Write down the accessories that are seen, from the back to the front, in rows of b; how many there are.
private static long listPinned(long[] m, double[] r, long[] z, double[] v, boolean left, double wide, double high, double tilt, double[] b) {
    long count = 0, lowest = lowestSeen(m, r, z, v);
    if (lowest < 0 || m[HEAD_ACCESSORIES] == m[HEAD_ACCESSORIES_END]) return 0;
    for (long layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long cel = celOf(m, r, z, v, layer);
        if (cel < 0) continue;
        long row = celRow(m, z, layer, cel);
        boolean mirrored = isMirrored(m, z, layer, cel, left);
        long turns = quarterTurns(m, z, layer, cel, left);
        for (long before = 0; before < 2; before++) {
            for (long accessory = m[HEAD_ACCESSORIES]; accessory < m[HEAD_ACCESSORIES_END]; accessory += ACCESSORY_SIZE) {
                long spot = pinnedAt(m, row, accessory);
                if (spot < 0 || liesBehind(m, accessory, spot) == (before == 1)) continue;
                if (!run(m, r, z, v, m[(int) (accessory + ACCESSORY_SHOWN)])) continue;
                long shown = m[(int) (accessory + ACCESSORY_FRAME)];
                boolean flips = false;
                long quarters = 0;
                if (m[(int) (accessory + ACCESSORY_CLIP)] < m[(int) (accessory + ACCESSORY_CLIP_END)]) {
                    long own = accessoryCel(m, z, accessory, layer);
                    if (own < 0) continue;
                    shown = m[(int) (own + CEL_FRAME)];
                    flips = m[(int) (own + CEL_MIRRORED)] != 0;
                    quarters = m[(int) (own + CEL_TURNS)];
                }
                long at = count * PINNED_SIZE;
                placeSpot(r, spot, mirrored, turns, wide, high, tilt, b, at + PINNED_X);
                double turn = reduced(r[(int) (spot + SPOT_ANGLE)] - r[(int) (accessory + ACCESSORY_ANGLE)]) + 90.0 * quarters;
                b[(int) (at + PINNED_TURN)] = reduced(90.0 * turns + (mirrored ? 0.0 - turn : turn));
                b[(int) (at + PINNED_NAME)] = (double) m[(int) (accessory + ACCESSORY_NAME)];
                b[(int) (at + PINNED_LAYER)] = (double) layer;
                b[(int) (at + PINNED_BEHIND)] = 1.0 - (double) before;
                b[(int) (at + PINNED_FRAME)] = (double) dressed(m, r, z, v, layer, shown);
                b[(int) (at + PINNED_MIRRORED)] = mirrored != flips ? 1.0 : 0.0;
                count += 1;
            }
        }
    }
    return count;
}

// Write down where the marks that fired and name pin points did, in rows of b; how many there are.
private static long listPlaces(long[] m, double[] r, long[] k, boolean left, double wide, double high, double tilt, double[] b) {
    long count = 0;
    for (long mark = 0; mark < (k[1] < k[0] ? k[1] : k[0]); mark++) {
        long told = TOLD + mark * TOLD_SIZE;
        long cue = m[HEAD_CUES] + k[(int) (told + 3)] * CUE_SIZE;
        long state = m[HEAD_STATES] + k[(int) (told + 4)] * STATE_SIZE;
        long sample = m[(int) (state + STATE_SAMPLES)] + k[(int) (told + 5)] * SAMPLE_SIZE;
        long row = m[(int) (m[(int) (sample + SAMPLE_CLIP)] + CLIP_CELS)] + m[(int) (cue + CUE_CEL)] * CEL_SIZE;
        for (long spot = m[(int) (cue + CUE_SPOTS)]; spot < m[(int) (cue + CUE_SPOTS_END)]; spot += SPOT_SIZE) {
            boolean mirrored = isFlipped(m, state, sample, row, left);
            long turns = m[(int) (row + CEL_TURNS)];
            if (turnsRound(m, state, row, left)) turns = (4 - turns) % 4;
            long at = count * PLACED_SIZE;
            b[(int) (at + PLACED_NUMBER)] = (double) mark;
            b[(int) (at + PLACED_PIN)] = (double) m[(int) (spot + SPOT_PIN)];
            placeSpot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED_X);
            b[(int) (at + PLACED_BEHIND)] = (double) m[(int) (spot + SPOT_BEHIND)];
            count += 1;
        }
    }
    return count;
}

// The row that says how a frame moves parts; -1: it is not drawn from any.
private static long posedRow(long[] m, long frame) {
    long low = m[HEAD_POSED], high = m[HEAD_POSED_END];
    while (low < high) {
        long middle = low + Math.floorDiv(Math.floorDiv(high - low, POSED_SIZE), 2) * POSED_SIZE;
        if (m[(int) (middle + POSED_FRAME)] < frame) low = middle + POSED_SIZE;
        else high = middle;
    }
    return low < m[HEAD_POSED_END] && m[(int) (low + POSED_FRAME)] == frame ? low : -1;
}

// How many samples a state has for each way of moving.
private static long samplesEach(long[] m, long state) {
    long ways = 1 + Math.floorDiv(m[(int) (state + STATE_MOVED_END)] - m[(int) (state + STATE_MOVED)], MOVED_SIZE);
    return Math.floorDiv(Math.floorDiv(m[(int) (state + STATE_SAMPLES_END)] - m[(int) (state + STATE_SAMPLES)], SAMPLE_SIZE), ways);
}

// The value an axis reads, brought into its range.
private static double valueOn(long[] m, double[] r, double[] v, long axis) {
    double value = m[(int) (axis + AXIS_PARAMETER)] >= 0 ? v[(int) m[(int) (axis + AXIS_PARAMETER)]] : 0.0;
    if (m[(int) (axis + AXIS_ROUND)] != 0) return value;
    if (r[(int) (axis + AXIS_LOW)] > value) value = r[(int) (axis + AXIS_LOW)];
    if (r[(int) (axis + AXIS_HIGH)] < value) value = r[(int) (axis + AXIS_HIGH)];
    return value;
}

// Add the share of a place to the samples that stand there.
private static void giveShare(long[] m, double[] r, long place, double share, long each, double[] w) {
    for (long row = m[(int) (place + MIX_PLACE_MIX_SHARES)]; row < m[(int) (place + MIX_PLACE_MIX_SHARES_END)]; row += MIX_SHARE_SIZE) {
        long number = m[(int) (row + MIX_SHARE_SAMPLE)];
        if (number < each) w[(int) number] = w[(int) number] + share * r[(int) (row + MIX_SHARE_SHARE)];
    }
}

// Write down how much of every sample of a state's blend space is in the mix (:mod:`leanstep.core.blends.mixing`).
private static void weigh(long[] m, double[] r, double[] v, long state, double[] w) {
    long a = 0, b = 0;
    double ax = 0.0, ay = 0.0, wide = 0.0, high = 0.0;
    long each = samplesEach(m, state);
    for (long number = 0; number < each; number++) w[(int) number] = 0.0;
    long axis = m[(int) (state + STATE_AXES)];
    double x = 0.0, y = 0.0;
    if (axis < m[(int) (state + STATE_AXES_END)]) {
        x = valueOn(m, r, v, axis) / r[(int) (axis + AXIS_STEP)];
        axis += AXIS_SIZE;
    }
    if (axis < m[(int) (state + STATE_AXES_END)]) y = valueOn(m, r, v, axis) / r[(int) (axis + AXIS_STEP)];
    for (long cell = m[(int) (state + STATE_MIX_CELLS)]; cell < m[(int) (state + STATE_MIX_CELLS_END)]; cell += MIX_CELL_SIZE) {
        a = m[(int) (cell + MIX_CELL_FIRST)];
        b = m[(int) (cell + MIX_CELL_SECOND)];
        long c = m[(int) (cell + MIX_CELL_THIRD)];
        ax = r[(int) (a + MIX_PLACE_X)];
        ay = r[(int) (a + MIX_PLACE_Y)];
        wide = r[(int) (b + MIX_PLACE_X)] - ax;
        high = r[(int) (b + MIX_PLACE_Y)] - ay;
        double farWide = r[(int) (c + MIX_PLACE_X)] - ax, farHigh = r[(int) (c + MIX_PLACE_Y)] - ay;
        double whole = wide * farHigh - high * farWide;
        if (whole == 0.0) continue;
        double second = ((x - ax) * farHigh - (y - ay) * farWide) / whole;
        double third = (wide * (y - ay) - high * (x - ax)) / whole;
        double first = 1.0 - second - third;
        if (first >= 0.0 && second >= 0.0 && third >= 0.0) {
            giveShare(m, r, a, first, each, w);
            giveShare(m, r, b, second, each, w);
            giveShare(m, r, c, third, each, w);
            return;
        }
    }
    double nearest = FARTHEST;
    long one = -1, other = -1;
    double along = 0.0;
    for (long edge = m[(int) (state + STATE_MIX_EDGES)]; edge < m[(int) (state + STATE_MIX_EDGES_END)]; edge += MIX_EDGE_SIZE) {
        a = m[(int) (edge + MIX_EDGE_FIRST)];
        b = m[(int) (edge + MIX_EDGE_SECOND)];
        ax = r[(int) (a + MIX_PLACE_X)];
        ay = r[(int) (a + MIX_PLACE_Y)];
        wide = r[(int) (b + MIX_PLACE_X)] - ax;
        high = r[(int) (b + MIX_PLACE_Y)] - ay;
        double length = wide * wide + high * high, share = 0.0;
        if (length != 0.0) {
            share = ((x - ax) * wide + (y - ay) * high) / length;
            share = share < 0.0 ? 0.0 : share > 1.0 ? 1.0 : share;
        }
        double right = x - ax - share * wide, up = y - ay - share * high;
        double away = right * right + up * up;
        if (one < 0 || away < nearest) {
            nearest = away;
            one = a;
            other = b;
            along = share;
        }
    }
    giveShare(m, r, one, 1.0 - along, each, w);
    giveShare(m, r, other, along, each, w);
}

// The playhead when a state's pick changes: at the same share of the other clip, counted from where each cycle begins.
private static long takenOver(long[] m, long state, long before, long pick, long head) {
    long old = m[(int) (state + STATE_SAMPLES)] + before * SAMPLE_SIZE;
    long shown = m[(int) (state + STATE_SAMPLES)] + pick * SAMPLE_SIZE;
    long clip = m[(int) (shown + SAMPLE_CLIP)];
    long length = m[(int) (clip + CLIP_LENGTH)];
    head = Math.floorDiv((head - m[(int) (old + SAMPLE_PHASE)]) * length, m[(int) (m[(int) (old + SAMPLE_CLIP)] + CLIP_LENGTH)]) + m[(int) (shown + SAMPLE_PHASE)];
    if (head < 0) head = m[(int) (clip + CLIP_BEGIN)] >= 0 ? head + length : 0;
    return folded(m, clip, head);
}

// The row of the cel that a layer would show if a sample of its state were picked now; -1: none.
private static long celIfPicked(long[] m, double[] r, long[] z, double[] v, long layer, long number) {
    long player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
    long pick = z[(int) (player + PLAYER_PICK)], head = z[(int) (player + PLAYER_HEAD)];
    if (number != pick) head = takenOver(m, state, pick, number, head);
    long clip = m[(int) (m[(int) (state + STATE_SAMPLES)] + number * SAMPLE_SIZE + SAMPLE_CLIP)];
    long cel = celShown(m, r, v, clip, head);
    return cel >= 0 ? m[(int) (clip + CLIP_CELS)] + cel * CEL_SIZE : -1;
}

// Whether what a layer shows mixes: all samples that count show frames drawn from the parts of the one that is picked (its row is
// posed), the same way round and not turned. How much of each there is and where its poses begin are written in w.
private static boolean mixesParts(long[] m, double[] r, long[] z, double[] v, long layer, long posed, boolean left, double[] w) {
    long state = stateOf(m, z, layer);
    if (m[(int) (state + STATE_MIX_EDGES)] == m[(int) (state + STATE_MIX_EDGES_END)]) return false;
    long each = samplesEach(m, state), pick = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK)];
    long cel = celOf(m, r, z, v, layer);
    boolean mirrored = isMirrored(m, z, layer, cel, left);
    long way = Math.floorDiv(pick, each);
    if (m[(int) (celRow(m, z, layer, cel) + CEL_TURNS)] != 0) return false;
    weigh(m, r, v, state, w);
    for (long number = 0; number < each; number++) {
        if (w[(int) number] > 0.0) {
            long sample = m[(int) (state + STATE_SAMPLES)] + (way * each + number) * SAMPLE_SIZE;
            long row = celIfPicked(m, r, z, v, layer, way * each + number);
            if (row < 0 || m[(int) (row + CEL_TURNS)] != 0 || isFlipped(m, state, sample, row, left) != mirrored) return false;
            long other = posedRow(m, dressed(m, r, z, v, layer, m[(int) (row + CEL_FRAME)]));
            if (other < 0 || m[(int) (other + POSED_FIGURE)] != m[(int) (posed + POSED_FIGURE)]) return false;
            long parts = m[(int) (other + POSED_POSES_END)] - m[(int) (other + POSED_POSES)];
            if (parts != m[(int) (posed + POSED_POSES_END)] - m[(int) (posed + POSED_POSES)]) return false;
            w[(int) (each + number)] = (double) m[(int) (other + POSED_POSES)];
        }
    }
    return true;
}

// Write from place at on how a part is moved in the mix (:func:`leanstep.core.cut_outs.poses.mixed`); part is how far behind the
// first part of its frame its pose stands.
private static void mixPart(double[] r, double[] w, long each, long part, double[] b, long at) {
    double x = 0.0, y = 0.0, way = 0.0, wide = 0.0, high = 0.0;
    double start = 0.0;
    boolean begun = false, rests = true;
    for (long number = 0; number < each; number++) {
        double weight = w[(int) number];
        if (weight > 0.0) {
            long pose = (long) w[(int) (each + number)] + part;
            double angle = reduced(r[(int) (pose + PART_POSE_TURN)]);
            if (!begun) {
                start = angle;
                begun = true;
            }
            x = x + r[(int) (pose + PART_POSE_X)] * weight;
            y = y + r[(int) (pose + PART_POSE_Y)] * weight;
            wide = wide + r[(int) (pose + PART_POSE_WIDE)] * weight;
            high = high + r[(int) (pose + PART_POSE_HIGH)] * weight;
            way = way + turn(start, angle) * weight;
            boolean moves = r[(int) (pose + PART_POSE_X)] != 0.0 || r[(int) (pose + PART_POSE_Y)] != 0.0 || r[(int) (pose + PART_POSE_TURN)] != 0.0;
            boolean scales = r[(int) (pose + PART_POSE_WIDE)] != 1.0 || r[(int) (pose + PART_POSE_HIGH)] != 1.0;
            rests = rests && !moves && !scales;
        }
    }
    b[(int) (at + PARTED_X)] = rests ? 0.0 : x;
    b[(int) (at + PARTED_Y)] = rests ? 0.0 : y;
    b[(int) (at + PARTED_TURN)] = rests ? 0.0 : start + way;
    b[(int) (at + PARTED_WIDE)] = rests ? 1.0 : wide;
    b[(int) (at + PARTED_HIGH)] = rests ? 1.0 : high;
}

// Write down how the parts of what is seen are moved, layer by layer from the back to the front, in rows of b; how many there are.
private static long listParts(long[] m, double[] r, long[] z, double[] v, boolean left, double[] w, double[] b) {
    long count = 0, lowest = lowestSeen(m, r, z, v);
    if (lowest < 0 || m[HEAD_POSED] == m[HEAD_POSED_END]) return 0;
    for (long layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long cel = celOf(m, r, z, v, layer);
        if (cel < 0) continue;
        long posed = posedRow(m, frameOf(m, r, z, v, layer, cel));
        if (posed < 0) continue;
        long first = m[(int) (posed + POSED_POSES)];
        boolean mixes = mixesParts(m, r, z, v, layer, posed, left, w);
        for (long pose = first; pose < m[(int) (posed + POSED_POSES_END)]; pose += PART_POSE_SIZE) {
            long at = count * PARTED_SIZE;
            b[(int) (at + PARTED_LAYER)] = (double) layer;
            b[(int) (at + PARTED_PART)] = (double) m[(int) (pose + PART_POSE_PART)];
            if (mixes) mixPart(r, w, samplesEach(m, stateOf(m, z, layer)), pose - first, b, at);
            else {
                b[(int) (at + PARTED_X)] = r[(int) (pose + PART_POSE_X)];
                b[(int) (at + PARTED_Y)] = r[(int) (pose + PART_POSE_Y)];
                b[(int) (at + PARTED_TURN)] = r[(int) (pose + PART_POSE_TURN)];
                b[(int) (at + PARTED_WIDE)] = r[(int) (pose + PART_POSE_WIDE)];
                b[(int) (at + PARTED_HIGH)] = r[(int) (pose + PART_POSE_HIGH)];
            }
            count += 1;
        }
    }
    return count;
}

// How many parts can be listed at most.
private static long mostParts(long[] m) {
    long most = 0;
    for (long posed = m[HEAD_POSED]; posed < m[HEAD_POSED_END]; posed += POSED_SIZE) {
        most = (Math.floorDiv(m[(int) (posed + POSED_POSES_END)] - m[(int) (posed + POSED_POSES)], PART_POSE_SIZE) > most ? Math.floorDiv(m[(int) (posed + POSED_POSES_END)] - m[(int) (posed + POSED_POSES)], PART_POSE_SIZE) : most);
    }
    return most * m[HEAD_LAYER_COUNT];
}

// The squash there is begins to spring back, unless it does already.
private static void letGo(double[] s) {
    if (s[DRAWN_SQUASH] > 0.0 && s[DRAWN_FREED] < 0.0) s[DRAWN_FREED] = s[DRAWN_SINCE];
}

// What some rows say begins; state holds what it holds.
private static void beginAll(long[] m, double[] r, double[] s, long begin, long end, long state) {
    for (long shape = begin; shape < end; shape += SHAPE_SIZE) {
        long does = m[(int) (shape + SHAPE_DO)], which = m[(int) (shape + SHAPE_WHICH)];
        if (does == LEANED) s[DRAWN_LEANING] = (double) which;
        else if (does == LET_GO) letGo(s);
        else if (does != HELD_LEAN) {
            double wholeAt = r[(int) (m[HEAD_SQUASHES] + which * SQUASH_SIZE + SQUASH_BY_FALL)];
            s[DRAWN_SQUASH] = which + 1.0;
            s[DRAWN_HOLDER] = does == HELD_SQUASH ? state + 1.0 : 0.0;
            s[DRAWN_AMOUNT] = wholeAt == 0.0 ? 1.0 : (1.0 < s[DRAWN_FALL] / wholeAt ? 1.0 : s[DRAWN_FALL] / wholeAt);
            s[DRAWN_SINCE] = 0.0;
            s[DRAWN_FREED] = -1.0;
            s[DRAWN_FROM_WIDE] = s[DRAWN_WIDE];
            s[DRAWN_FROM_HIGH] = s[DRAWN_HIGH];
        }
    }
}

// Note what the next tick begins with.
private static void keepSeen(long[] m, long[] z, double[] s) {
    s[DRAWN_FREEZE] = (double) z[NOW_FREEZE];
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) s[(int) (DRAWN_SIZE + layer)] = (double) stateOf(m, z, layer);
}

// The width of a shape between two; keeps: its area goes evenly, not its width.
private static double wideBetween(double wide, double high, double toWide, double toHigh, double share, boolean keeps) {
    if (!keeps) return wide + (toWide - wide) * share;
    double area = wide * high, toArea = toWide * toHigh;
    return (area + (toArea - area) * share) / (high + (toHigh - high) * share);
}

// The figure's width and height now; what has sprung back is over.
private static void form(long[] m, double[] r, double[] s) {
    if (s[DRAWN_SQUASH] == 0.0) return;
    long one = m[HEAD_SQUASHES] + ((long) s[DRAWN_SQUASH] - 1) * SQUASH_SIZE;
    double over = r[(int) (one + SQUASH_OVER)], hold = r[(int) (one + SQUASH_HOLD)], back = r[(int) (one + SQUASH_BACK)];
    boolean keeps = r[(int) (one + SQUASH_WIDE)] != r[(int) (one + SQUASH_WIDE)];
    double since = s[DRAWN_SINCE];
    if (s[DRAWN_FREED] < 0.0 && hold == hold && since >= over + hold) s[DRAWN_FREED] = since;
    double freed = s[DRAWN_FREED];
    double ticks = freed >= 0.0 ? (freed < since ? freed : since) : since;
    double share = s[DRAWN_AMOUNT], every = r[(int) (one + SQUASH_EVERY)];
    if (every > 0.0) {
        double quarter = reduced(360.0 * ticks / every) + 90.0;
        share *= (1.0 - across(quarter < 360.0 ? quarter : quarter - 360.0)) / 2.0;
    }
    double high = 1.0 + (r[(int) (one + SQUASH_HIGH)] - 1.0) * share;
    double wide = keeps ? 1.0 / high : 1.0 + (r[(int) (one + SQUASH_WIDE)] - 1.0) * share;
    double t = over > 0.0 ? (1.0 < ticks / over ? 1.0 : ticks / over) : 1.0;
    wide = wideBetween(s[DRAWN_FROM_WIDE], s[DRAWN_FROM_HIGH], wide, high, t * (2.0 - t), keeps);
    high = s[DRAWN_FROM_HIGH] + (high - s[DRAWN_FROM_HIGH]) * (t * (2.0 - t));
    if (freed >= 0.0) {
        double goneBy = back > 0.0 ? (since - freed) / back : 1.0;
        if (goneBy >= 1.0) {
            s[DRAWN_WIDE] = 1.0;
            s[DRAWN_HIGH] = 1.0;
            s[DRAWN_WHOLE] = 0.0;
            s[DRAWN_SQUASH] = 0.0;
            s[DRAWN_HOLDER] = 0.0;
            return;
        }
        double left = 1.0 - goneBy * goneBy * (3.0 - 2.0 * goneBy);
        wide = wideBetween(1.0, 1.0, wide, high, left, keeps);
        high = 1.0 + (high - 1.0) * left;
    }
    s[DRAWN_WIDE] = wide;
    s[DRAWN_HIGH] = high;
    s[DRAWN_WHOLE] = (double) m[(int) (one + SQUASH_WHOLE)];
}

// The figure before tick 0, of a body at rest that looks right; s is an array of zeros.
private static void beginShape(long[] m, double[] r, long[] z, double[] s) {
    s[DRAWN_WIDE] = 1.0;
    s[DRAWN_HIGH] = 1.0;
    s[DRAWN_FREED] = -1.0;
    s[DRAWN_FACING] = 90.0;
    s[DRAWN_GROUNDED] = 1.0;
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long state = stateOf(m, z, layer);
        beginAll(m, r, s, m[(int) (state + STATE_SHAPES)], m[(int) (state + STATE_SHAPES_END)], state);
    }
    keepSeen(m, z, s);
    form(m, r, s);
}

// Note how fast a fall was.
private static void noteFall(long[] m, double[] r, double[] s) {
    if (m[HEAD_SQUASHES] == m[HEAD_SQUASHES_END]) return;
    if (s[DRAWN_UP] < 0.0 && s[DRAWN_GROUNDED] == 0.0) {
        s[DRAWN_FALL] = -s[DRAWN_UP];
        s[DRAWN_LANDED] = 0.0;
    } else if (s[DRAWN_LANDED] > r[(int) (m[HEAD_SQUASHES] + SQUASH_RECENT)]) s[DRAWN_FALL] = 0.0;
    else s[DRAWN_LANDED] += 1.0;
}

// The tilt follows how the body speeds up and turns.
private static void leanOver(long[] m, double[] r, long[] z, double[] s, double velocity, double facing) {
    if (m[HEAD_LEANS] == m[HEAD_LEANS_END]) return;
    long which = -1;
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long state = stateOf(m, z, layer);
        for (long shape = m[(int) (state + STATE_SHAPES)]; shape < m[(int) (state + STATE_SHAPES_END)]; shape += SHAPE_SIZE) {
            if (which < 0 && m[(int) (shape + SHAPE_DO)] == HELD_LEAN) which = m[(int) (shape + SHAPE_WHICH)];
        }
    }
    if (which < 0) which = (long) s[DRAWN_LEANING];
    if (which == 0 && s[DRAWN_TILT] == 0.0) return;
    long lean = m[HEAD_LEANS] + which * LEAN_SIZE;
    double ahead = facing, gained = velocity - s[DRAWN_VELOCITY], sideways = facing + 90.0;
    if (m[(int) (lean + LEAN_SIGNED)] != 0) {
        ahead = facing < 180.0 ? 90.0 : 270.0;
        gained = facing < 180.0 ? gained : -gained;
    }
    if (sideways >= 360.0) sideways -= 360.0;
    double dt = r[(int) (lean + LEAN_DT)], most = r[(int) (lean + LEAN_MOST)];
    double goal = r[(int) (lean + LEAN_TURNING)] * turn(s[DRAWN_FACING], facing) / dt / 100.0 * across(sideways);
    goal += r[(int) (lean + LEAN_SPEEDING)] * (gained / dt) / 100.0 * across(ahead);
    goal = (most < (-most > goal ? -most : goal) ? most : (-most > goal ? -most : goal));
    double leaned = s[DRAWN_TILT] + (goal - s[DRAWN_TILT]) * r[(int) (lean + LEAN_SHARE)];
    s[DRAWN_TILT] = Math.abs(leaned) > 0.001 ? leaned : 0.0;
}

// The figure one tick later; velocity of the body to the right, or of one seen from above along its facing, and up, in units a
// second, facing as a bearing.
private static void followShape(long[] m, double[] r, long[] z, long[] k, long[] taken, double[] s, double velocity, double up, double facing, boolean grounded) {
    noteFall(m, r, s);
    if (s[DRAWN_SQUASH] > 0.0 && s[DRAWN_FREEZE] == 0.0) s[DRAWN_SINCE] += 1.0;
    for (long mark = 0; mark < (k[1] < k[0] ? k[1] : k[0]); mark++) {
        long cue = m[HEAD_CUES] + k[(int) (TOLD + mark * TOLD_SIZE + 3)] * CUE_SIZE;
        beginAll(m, r, s, m[(int) (cue + CUE_SHAPES)], m[(int) (cue + CUE_SHAPES_END)], -1);
    }
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        if (taken[(int) layer] < 0) continue;
        long old = (long) s[(int) (DRAWN_SIZE + layer)], state = stateOf(m, z, layer);
        if (s[DRAWN_HOLDER] == old + 1.0) letGo(s);
        beginAll(m, r, s, m[(int) (old + STATE_LAST_SHAPES)], m[(int) (old + STATE_LAST_SHAPES_END)], -1);
        for (long way = m[(int) (old + STATE_WAYS)]; way < m[(int) (old + STATE_WAYS_END)]; way += WAY_SIZE) {
            if (m[(int) (way + WAY_NUMBER)] == taken[(int) layer]) {
                beginAll(m, r, s, m[(int) (way + WAY_SHAPES)], m[(int) (way + WAY_SHAPES_END)], -1);
                break;
            }
        }
        beginAll(m, r, s, m[(int) (state + STATE_SHAPES)], m[(int) (state + STATE_SHAPES_END)], state);
    }
    leanOver(m, r, z, s, velocity, facing);
    keepSeen(m, z, s);
    s[DRAWN_VELOCITY] = velocity;
    s[DRAWN_UP] = up;
    s[DRAWN_FACING] = facing;
    s[DRAWN_GROUNDED] = grounded ? 1.0 : 0.0;
    form(m, r, s);
}

// Write the spans that are on to out, pairs of a name and the row of a window; how many there are.
private static long listSpans(long[] m, long[] z, long[] out) {
    long count = 0;
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long clip = clipOf(m, z, layer);
        if (clip < 0) continue;
        long head = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD)];
        for (long window = m[(int) (clip + CLIP_WINDOWS)]; window < m[(int) (clip + CLIP_WINDOWS_END)]; window += WINDOW_SIZE) {
            if (m[(int) (window + WINDOW_START)] <= head && head < m[(int) (window + WINDOW_END)]) {
                out[(int) (2 * count)] = m[(int) (window + WINDOW_SPAN)];
                out[(int) (2 * count + 1)] = Math.floorDiv(window - m[HEAD_WINDOWS], WINDOW_SIZE);
                count += 1;
            }
        }
    }
    return count;
}

// A pulse comes on, where there is one.
private static void pulseOn(double[] v, long parameter, double on) {
    if (parameter >= 0 && on != 0.0) v[(int) parameter] = 1.0;
}

// A number gets a value, where there is one.
private static void giveValue(long[] m, double[] r, double[] v, long parameter, double value) {
    if (parameter >= 0) v[(int) parameter] = fitted(m, r, parameter, value);
}

// Set what contact on the tick before raises, once a tick has begun.
private static void raiseDue(long[] m, double[] r, double[] v, double[] w) {
    long rules = m[HEAD_CONTACT];
    if (w[DUE_ANY] == 0.0 || rules >= m[HEAD_CONTACT_END]) return;
    pulseOn(v, m[(int) (rules + CONTACT_HIT)], w[DUE_HIT]);
    pulseOn(v, m[(int) (rules + CONTACT_GUARDED)], w[DUE_GUARDED]);
    pulseOn(v, m[(int) (rules + CONTACT_LANDS)], w[DUE_LANDS]);
    pulseOn(v, m[(int) (rules + CONTACT_STOPPED)], w[DUE_STOPPED]);
    if (w[DUE_HIT] != 0.0 || w[DUE_GUARDED] != 0.0) {
        giveValue(m, r, v, m[(int) (rules + CONTACT_STUN)], w[DUE_STUN]);
        giveValue(m, r, v, m[(int) (rules + CONTACT_STRENGTH)], w[DUE_STRENGTH]);
    }
}

// What contact on the tick before does at the end of this one: time stands, and the body is pushed.
private static void settle(long[] m, long[] z, double[] v, double[] w) {
    if (w[DUE_ANY] != 0.0) {
        z[NOW_FREEZE] = ((long) w[DUE_FREEZE] > z[NOW_FREEZE] ? (long) w[DUE_FREEZE] : z[NOW_FREEZE]);
        v[(int) (m[HEAD_PLACE] + FIELDS_PUSH)] += w[DUE_PUSH];
        for (long due = 0; due < DUE_SIZE; due++) w[(int) due] = 0.0;
    }
}

// A strike whose state is entered anew can hit again.
private static void forgetSpent(long[] m, long[] taken, long[] spent) {
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        if (taken[(int) layer] >= 0) spent[(int) layer] = 0;
    }
}

// The number of the active phase a layer stands in, counted from 1 and further for each that hits again; 0: in none.
private static long windowOf(long[] m, long[] z, long layer) {
    long clip = clipOf(m, z, layer);
    if (clip < 0) return 0;
    long head = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD)];
    for (long active = m[(int) (clip + CLIP_ACTIVES)]; active < m[(int) (clip + CLIP_ACTIVES_END)]; active += ACTIVE_SIZE) {
        if (m[(int) (active + ACTIVE_START)] <= head && head < m[(int) (active + ACTIVE_END)]) {
            return m[(int) (active + ACTIVE_WINDOW)];
        }
    }
    return 0;
}

// Write where a box of a cel is: its edges, from place at on.
private static void placeBox(long[] m, double[] r, long[] z, long layer, long cel, long rect, boolean left, double x, double y, double wide, double high, double[] b, long at) {
    double low = r[(int) (rect + RECT_LEFT)], bottom = r[(int) (rect + RECT_BOTTOM)];
    double width = r[(int) (rect + RECT_WIDTH)], height = r[(int) (rect + RECT_HEIGHT)];
    if (isMirrored(m, z, layer, cel, left)) low = -low - width;
    for (long again = 0; again < quarterTurns(m, z, layer, cel, left); again++) {
        double turned = -low - width;
        low = bottom;
        bottom = turned;
        turned = width;
        width = height;
        height = turned;
    }
    double ahead = aside(m, r, z, layer, 1);
    double across = x + (left && ahead != 0.0 ? -ahead : ahead);
    double up = y + aside(m, r, z, layer, 2);
    b[(int) at] = across + low * wide;
    b[(int) (at + 1)] = up + bottom * high;
    b[(int) (at + 2)] = across + (low + width) * wide;
    b[(int) (at + 3)] = up + (bottom + height) * high;
}

// Whether the box that stands first in b overlaps some vulnerable box of a figure in an area.
private static boolean meetsAny(long[] m, double[] r, long[] z, double[] v, boolean left, double x, double y, double wide, double high, double[] b) {
    long lowest = lowestSeen(m, r, z, v);
    if (lowest < 0) return false;
    for (long layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long cel = celOf(m, r, z, v, layer);
        if (cel < 0) continue;
        long row = celRow(m, z, layer, cel);
        for (long rect = m[(int) (row + CEL_RECTS)]; rect < m[(int) (row + CEL_RECTS_END)]; rect += RECT_SIZE) {
            if (m[(int) (rect + RECT_KIND)] != VULNERABLE_BOX) continue;
            placeBox(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 4);
            if ((b[6] < b[2] ? b[6] : b[2]) - (b[4] > b[0] ? b[4] : b[0]) > 0.0 && (b[7] < b[3] ? b[7] : b[3]) - (b[5] > b[1] ? b[5] : b[1]) > 0.0) {
                return true;
            }
        }
    }
    return false;
}

// Whether a figure guards, after the transitions of a tick.
private static boolean isGuarding(long[] m, double[] r, long[] z, double[] v) {
    long rules = m[HEAD_CONTACT];
    return rules < m[HEAD_CONTACT_END] && run(m, r, z, v, m[(int) (rules + CONTACT_GUARDS)]);
}

// Decide which strikes of a figure meet another: out is told by layer 0 for none, 1 for a hit and 2 for one that is guarded, and
// spent which windows have hit.
private static boolean strikes(long[] m, double[] r, long[] z, double[] v, boolean left, double x, double y, double wide, double high, long[] otherM, double[] otherR, long[] otherZ, double[] otherV, boolean otherLeft, double otherX, double otherY, double otherWide, double otherHigh, long[] spent, long[] out, double[] b) {
    boolean found = false;
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        out[(int) layer] = 0;
        long window = windowOf(m, z, layer);
        if (window <= spent[(int) layer]) continue;
        long cel = celOf(m, r, z, v, layer), lowest = lowestSeen(m, r, z, v);
        if (cel < 0 || layer < lowest) continue;
        long row = celRow(m, z, layer, cel);
        boolean struck = false, reached = m[(int) (clipOf(m, z, layer) + CLIP_REACH)] == 0;
        for (long rect = m[(int) (row + CEL_RECTS)]; rect < m[(int) (row + CEL_RECTS_END)]; rect += RECT_SIZE) {
            long kind = m[(int) (rect + RECT_KIND)];
            if (kind == VULNERABLE_BOX || (kind == STRIKE_BOX && struck) || (kind == GUARD_BOX && reached)) continue;
            placeBox(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 0);
            if (meetsAny(otherM, otherR, otherZ, otherV, otherLeft, otherX, otherY, otherWide, otherHigh, b)) {
                if (kind == STRIKE_BOX) struck = true;
                else reached = true;
            }
        }
        if (struck) {
            boolean guarded = reached && isGuarding(otherM, otherR, otherZ, otherV);
            out[(int) layer] = guarded ? 2 : 1;
            spent[(int) layer] = window;
            found = true;
        }
    }
    return found;
}

// Add what strikes raise on who strikes, w, and on the other, along whose facing side of a push goes.
private static void addDue(long[] m, double[] r, long[] z, long[] out, double[] w, double[] other, double side) {
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        if (out[(int) layer] == 0) continue;
        long clip = clipOf(m, z, layer);
        boolean hits = out[(int) layer] == 1;
        w[DUE_ANY] = 1.0;
        other[DUE_ANY] = 1.0;
        if (hits) {
            w[DUE_LANDS] = 1.0;
            other[DUE_HIT] = 1.0;
        } else {
            w[DUE_STOPPED] = 1.0;
            other[DUE_GUARDED] = 1.0;
        }
        double stun = (double) (hits ? m[(int) (clip + CLIP_STUN)] : m[(int) (clip + CLIP_GUARD_STUN)]), freeze = (double) m[(int) (clip + CLIP_FREEZE)];
        other[DUE_STUN] = (stun > other[DUE_STUN] ? stun : other[DUE_STUN]);
        other[DUE_STRENGTH] = (r[(int) (clip + CLIP_STRENGTH)] > other[DUE_STRENGTH] ? r[(int) (clip + CLIP_STRENGTH)] : other[DUE_STRENGTH]);
        w[DUE_FREEZE] = (freeze > w[DUE_FREEZE] ? freeze : w[DUE_FREEZE]);
        other[DUE_FREEZE] = (freeze > other[DUE_FREEZE] ? freeze : other[DUE_FREEZE]);
        double push = r[(int) (clip + CLIP_PUSH)] * side;
        if (Math.abs(push) > Math.abs(other[DUE_PUSH])) other[DUE_PUSH] = push;
    }
}

// Contact of two figures that have both done a tick: out is told by layer 0 for none, 1 for a hit, 2 for one that is guarded, w
// what that raises on the next tick. along is how much of a push to the right goes along the facing.
private static boolean meet(long[] m, double[] r, long[] z, double[] v, long[] taken, boolean left, double along, double x, double y, double wide, double high, long[] spent, long[] out, double[] w, long[] otherM, double[] otherR, long[] otherZ, double[] otherV, long[] otherTaken, boolean otherLeft, double otherAlong, double otherX, double otherY, double otherWide, double otherHigh, long[] otherSpent, long[] otherOut, double[] otherW, double[] b) {
    forgetSpent(m, taken, spent);
    forgetSpent(otherM, otherTaken, otherSpent);
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) out[(int) layer] = 0;
    for (long layer = 0; layer < otherM[HEAD_LAYER_COUNT]; layer++) otherOut[(int) layer] = 0;
    if (z[NOW_FREEZE] > 0 || otherZ[NOW_FREEZE] > 0) return false;
    boolean first = strikes(m, r, z, v, left, x, y, wide, high, otherM, otherR, otherZ, otherV, otherLeft, otherX, otherY, otherWide, otherHigh, spent, out, b);
    boolean second = strikes(otherM, otherR, otherZ, otherV, otherLeft, otherX, otherY, otherWide, otherHigh, m, r, z, v, left, x, y, wide, high, otherSpent, otherOut, b);
    if (first) addDue(m, r, z, out, w, otherW, otherX >= x ? otherAlong : -otherAlong);
    if (second) addDue(otherM, otherR, otherZ, otherOut, otherW, w, x >= otherX ? along : -along);
    return first || second;
}

// Write where the cells of each section begin; how many cells there are in all.
private static long rowsOf(long[] counts, long[] rows) {
    long total = 0;
    for (long section = 0; section < SECTION_COUNT; section++) {
        rows[(int) section] = total;
        total += counts[(int) section] * WIDTHS[(int) section];
    }
    return total;
}

// Whether a cell is a whole number from low to high.
private static boolean isWhole(double value, double low, double high) {
    return low <= value && value <= high && Math.floor(value) == value;
}

// The number of the first cell that is not what its column may hold; -1: none.
private static long wrongCell(double[] cells, long[] counts, long[] names) {
    long at = 0, first = 0;
    for (long section = 0; section < SECTION_COUNT; section++) {
        for (long again = 0; again < counts[(int) section]; again++) {
            long target = 0;
            for (long column = first; column < first + SIZES[(int) section]; column++) {
                long rule = RULE[(int) column], about = ABOUT[(int) column];
                if (rule == WITHIN) continue;
                double value = cells[(int) at];
                boolean fine = true;
                if (rule == FINITE) fine = value - value == 0.0;
                else if (rule == INTEGER) fine = isWhole(value, -EXACT, EXACT);
                else if (rule == TIME) fine = isWhole(value, 0.0, EXACT) || value == NEVER;
                else if (rule == FROM_TO) fine = isWhole(value, 0.0, about);
                else if (rule == ROW || rule == ADDRESS) fine = isWhole(value, 0.0, counts[(int) about] - 1);
                else if (rule == ROW_OR_NONE) fine = isWhole(value, -1.0, counts[(int) about] - 1);
                else if (rule == NAME) fine = isWhole(value, 0.0, names[(int) about] - 1);
                else if (rule == FIRST) {
                    target = about;
                    fine = isWhole(value, 0.0, counts[(int) about]);
                } else if (rule == END) fine = isWhole(value, cells[(int) (at - 1)], counts[(int) target]);
                else fine = value != value || value - value == 0.0;
                if (!fine) return at;
                at += 1;
            }
        }
        first += SIZES[(int) section];
    }
    return -1;
}

// Whether an act changes what there is.
private static boolean actAgrees(double[] cells, long[] counts, long[] names, long one) {
    double does = cells[(int) (one + ACT_DO)], target = cells[(int) (one + ACT_TARGET)], value = cells[(int) (one + ACT_VALUE)];
    if (does <= RAISE) return 0.0 <= target && target < counts[PARAMETERS];
    if (does == LOCK || does == UNLOCK) return 0.0 <= target && target < names[NAMED_LOCKS];
    return does != FREEZE || isWhole(value, 0.0, 1000000000000000.0);
}

// Whether a clip's times can be counted, and its pieces and keys come one after another, and where marks fire.
private static boolean clipAgrees(double[] cells, long[] rows, long one) {
    double length = cells[(int) (one + CLIP_LENGTH)], back = cells[(int) (one + CLIP_BEGIN)];
    boolean paced = cells[(int) (one + CLIP_PACE)] >= 0.0;
    double cels = cells[(int) (one + CLIP_CELS_END)] - cells[(int) (one + CLIP_CELS)], cues = cells[(int) (one + CLIP_CUES_END)] - cells[(int) (one + CLIP_CUES)];
    double rate = paced ? cells[(int) (one + CLIP_HIGH)] : 1.0;
    if (!(1.0 <= length && length <= LONGEST) || !(-1.0 <= back && back < length)) return false;
    if (!(-1.0 <= cells[(int) (one + CLIP_RESTING)] && cells[(int) (one + CLIP_RESTING)] < cels)) return false;
    if (paced && (cells[(int) (one + CLIP_AT)] == 0.0 || !(0.0 <= cells[(int) (one + CLIP_LOW)] && cells[(int) (one + CLIP_LOW)] <= rate && rate <= FASTEST))) {
        return false;
    }
    if (cells[(int) (one + CLIP_GOES)] != 0.0 && cells[(int) (one + CLIP_KEYS)] == cells[(int) (one + CLIP_KEYS_END)]) return false;
    double lap = length - (back > 0.0 ? back : 0.0);
    if (cues * (Math.floor(Math.floor(rate * TICK) / lap) + 2.0) > MOST_MARKS) return false;
    for (long row = (long) cells[(int) (one + CLIP_CUES)]; row < (long) cells[(int) (one + CLIP_CUES_END)]; row++) {
        long cue = rows[CUES] + row * WIDTHS[CUES];
        double spots = cells[(int) (cue + CUE_SPOTS_END)] - cells[(int) (cue + CUE_SPOTS)];
        if (spots > 1.0 || (spots > 0.0 && cells[(int) (cue + CUE_CEL)] >= cels)) return false;
    }
    double before = -1.0;
    for (long row = (long) cells[(int) (one + CLIP_PIECES)]; row < (long) cells[(int) (one + CLIP_PIECES_END)]; row++) {
        long piece = rows[PIECES] + row * WIDTHS[PIECES];
        double start = cells[(int) (piece + PIECE_START)];
        if (start <= before || (before < 0.0 && start != 0.0) || cells[(int) (piece + PIECE_CEL)] >= cels) return false;
        before = start;
    }
    for (long row = (long) cells[(int) (one + CLIP_KEYS)] + 1; row < (long) cells[(int) (one + CLIP_KEYS_END)]; row++) {
        long key = rows[KEYS] + row * WIDTHS[KEYS];
        if (!(cells[(int) (key + KEY_AT)] > cells[(int) (key - WIDTHS[KEYS] + KEY_AT)])) return false;
    }
    return true;
}

// Whether a state's samples have their places, begin within their clips, and are as many for each way of moving.
private static boolean stateAgrees(double[] cells, long[] counts, long[] rows, long one) {
    long samples = (long) cells[(int) (one + STATE_SAMPLES)], samplesEnd = (long) cells[(int) (one + STATE_SAMPLES_END)];
    double axes = cells[(int) (one + STATE_AXES_END)] - cells[(int) (one + STATE_AXES)];
    if (cells[(int) (one + STATE_STICKY)] < 0.0 || (cells[(int) (one + STATE_BLENDS)] != 0.0 && samples == samplesEnd)) {
        return false;
    }
    long ways = (long) cells[(int) (one + STATE_MOVED_END)] - (long) cells[(int) (one + STATE_MOVED)] + 1;
    if ((samplesEnd - samples) % ways != 0 || (ways > 1 && samples == samplesEnd)) return false;
    for (long row = samples; row < samplesEnd; row++) {
        long sample = rows[SAMPLES] + row * WIDTHS[SAMPLES];
        long clip = rows[CLIPS] + (long) cells[(int) (sample + SAMPLE_CLIP)] * WIDTHS[CLIPS];
        if (cells[(int) (sample + SAMPLE_PHASE)] > cells[(int) (clip + CLIP_LENGTH)]) return false;
        if (cells[(int) (sample + SAMPLE_PLACES)] + axes > counts[PLACES]) return false;
    }
    return true;
}

// Whether squashes and leans can be followed, and what begins them is there.
private static boolean shapesAgree(double[] cells, long[] counts, long[] rows) {
    long one = 0;
    for (long number = 0; number < counts[SQUASHES]; number++) {
        one = rows[SQUASHES] + number * WIDTHS[SQUASHES];
        if (!(cells[(int) (one + SQUASH_HIGH)] > 0.0) || cells[(int) (one + SQUASH_WIDE)] <= 0.0) return false;
        if (cells[(int) (one + SQUASH_OVER)] < 0.0 || cells[(int) (one + SQUASH_HOLD)] < 0.0 || cells[(int) (one + SQUASH_BACK)] < 0.0) {
            return false;
        }
        if (cells[(int) (one + SQUASH_EVERY)] < 0.0 || cells[(int) (one + SQUASH_BY_FALL)] < 0.0) return false;
    }
    for (long number = 0; number < counts[LEANS]; number++) {
        one = rows[LEANS] + number * WIDTHS[LEANS];
        if (cells[(int) (one + LEAN_MOST)] < 0.0 || !(cells[(int) (one + LEAN_DT)] > 0.0)) return false;
    }
    for (long number = 0; number < counts[SHAPES]; number++) {
        one = rows[SHAPES] + number * WIDTHS[SHAPES];
        double does = cells[(int) (one + SHAPE_DO)], which = cells[(int) (one + SHAPE_WHICH)];
        if (which < 0.0 || (which >= counts[LEANS] && (does == LEANED || does == HELD_LEAN))) return false;
        if (which >= counts[SQUASHES] && (does == SQUASHED || does == HELD_SQUASH)) return false;
    }
    return true;
}

// Whether what a row of a program puts on the stack is there.
private static boolean leads(long[] counts, long[] names, long op, double a) {
    if (op == OP_NUMBER) return true;
    if (op == OP_PARAMETER || op == OP_PRESSED || op == OP_RELEASED) return 0.0 <= a && a < counts[PARAMETERS];
    if (op == OP_SINCE) return 0.0 <= a && a < counts[CLOCKS];
    if (op == OP_BUFFERED) return 0.0 <= a && a < counts[BUFFERS];
    if (op == OP_SPAN) return 0.0 <= a && a < names[NAMED_SPANS];
    if (op == OP_MEMORY) return 0.0 <= a && a < counts[MEMORIES];
    return 0.0 <= a && a < counts[LAYERS];
}

// Whether a postfix program leaves one number (an amount) or one truth, whichever way its skips go.
private static boolean isProgram(double[] cells, long[] counts, long[] names, long[] rows, long[] room, long begin, long end, boolean amount) {
    long ends = counts[PROGRAMS], used = 3 * counts[PROGRAMS];
    long depth = 0, base = 0, limit = end, waiting = 0, at = begin;
    while (true) {
        while (waiting > 0 && at == limit) {
            if (depth != base + 1 || room[(int) (depth - 1)] == AMOUNT) return false;
            room[(int) (depth - 1)] = TRUTH;
            waiting -= 1;
            limit = waiting > 0 ? room[(int) (ends + 2 * waiting - 2)] : end;
            base = waiting > 0 ? room[(int) (ends + 2 * waiting - 1)] : 0;
        }
        if (at == end) return depth == 1 && room[0] != (amount ? TRUTH : AMOUNT);
        long row = rows[PROGRAMS] + at * WIDTHS[PROGRAMS];
        long op = (long) cells[(int) (row + STEP_OP)];
        double a = cells[(int) (row + STEP_A)], b = cells[(int) (row + STEP_B)];
        if (room[(int) (used + at)] != 0) return false;
        room[(int) (used + at)] = 1;
        at += 1;
        if (op >= OP_SKIP_FALSE) {
            if (depth < base + 1 || room[(int) (depth - 1)] == AMOUNT || !(1.0 <= a && a <= limit - at)) return false;
            depth -= 1;
            limit = at + (long) a;
            base = depth;
            room[(int) (ends + 2 * waiting)] = limit;
            room[(int) (ends + 2 * waiting + 1)] = base;
            waiting += 1;
            continue;
        }
        long taken = 0, made = TRUTH;
        if (op == OP_NOT) taken = 1;
        else if (op == OP_COMPARE) {
            taken = 2;
            if (!(0.0 <= a && a < SIGN_COUNT)) return false;
        } else if (op == OP_COMPUTE) {
            if (!(0.0 <= a && a < OPERATOR_COUNT) || !(1.0 <= b && b <= depth - base)) return false;
            taken = (long) b;
            made = AMOUNT;
            if (TAKES[(int) (long) a] != 0 && TAKES[(int) (long) a] != taken) return false;
        } else {
            if (!leads(counts, names, op, a)) return false;
            if (op == OP_NUMBER || op == OP_PARAMETER) made = EITHER;
            else if (op == OP_STAY || op == OP_SINCE) made = AMOUNT;
        }
        if (depth - base < taken) return false;
        depth -= taken;
        for (long below = depth; below < depth + taken; below++) {
            if (room[(int) below] == (op == OP_NOT ? AMOUNT : TRUTH)) return false;
        }
        room[(int) depth] = made;
        depth += 1;
    }
}

// Whether each program comes to what it is asked for, and no two have a row in common.
private static boolean programsAgree(double[] cells, long[] counts, long[] names, long[] rows, long[] room) {
    long one = 0;
    for (long row = 0; row < counts[PROGRAMS]; row++) room[(int) (3 * counts[PROGRAMS] + row)] = 0;
    for (long number = 0; number < counts[WAYS]; number++) {
        one = rows[WAYS] + number * WIDTHS[WAYS] + WAY_PROGRAM;
        if (!isProgram(cells, counts, names, rows, room, (long) cells[(int) one], (long) cells[(int) (one + 1)], false)) {
            return false;
        }
    }
    for (long number = 0; number < counts[MEMORIES]; number++) {
        one = rows[MEMORIES] + number * WIDTHS[MEMORIES] + MEMORY_PROGRAM;
        if (!isProgram(cells, counts, names, rows, room, (long) cells[(int) one], (long) cells[(int) (one + 1)], false)) {
            return false;
        }
    }
    for (long number = 0; number < counts[FORMULAS]; number++) {
        one = rows[FORMULAS] + number * WIDTHS[FORMULAS];
        long parameter = rows[PARAMETERS] + (long) cells[(int) (one + FORMULA_PARAMETER)] * WIDTHS[PARAMETERS];
        boolean amount = cells[(int) (parameter + PARAMETER_KIND)] <= BEARING;
        long begin = (long) cells[(int) (one + FORMULA_PROGRAM)], end = (long) cells[(int) (one + FORMULA_PROGRAM_END)];
        if (!isProgram(cells, counts, names, rows, room, begin, end, amount)) return false;
    }
    for (long number = 0; number < counts[CONTACTS]; number++) {
        one = rows[CONTACTS] + number * WIDTHS[CONTACTS] + CONTACT_GUARDS;
        if (!isProgram(cells, counts, names, rows, room, (long) cells[(int) one], (long) cells[(int) (one + 1)], false)) {
            return false;
        }
    }
    for (long number = 0; number < counts[ACCESSORIES]; number++) {
        one = rows[ACCESSORIES] + number * WIDTHS[ACCESSORIES] + ACCESSORY_SHOWN;
        if (!isProgram(cells, counts, names, rows, room, (long) cells[(int) one], (long) cells[(int) (one + 1)], false)) {
            return false;
        }
    }
    return true;
}

// Whether what stands in several rows goes together; room is for four whole numbers a row of a program.
private static boolean agrees(double[] cells, long[] counts, long[] names, long[] rows, long[] room) {
    long one = 0;
    if (names[NAMED_PARAMETERS] != counts[PARAMETERS] || names[NAMED_LAYERS] != counts[LAYERS]) return false;
    if (names[NAMED_STATES] != counts[STATES] || names[NAMED_CLIPS] != counts[CLIPS]) return false;
    for (long number = 0; number < counts[PARAMETERS]; number++) {
        one = rows[PARAMETERS] + number * WIDTHS[PARAMETERS];
        double kind = cells[(int) (one + PARAMETER_KIND)];
        if (kind <= WHOLE && cells[(int) (one + PARAMETER_LOW)] > cells[(int) (one + PARAMETER_HIGH)]) return false;
        if (kind == CHOICE && !isWhole(cells[(int) (one + PARAMETER_FIRST)], 0.0, names[NAMED_WORDS] - 1)) return false;
    }
    for (long number = 0; number < counts[LAYERS]; number++) {
        one = rows[LAYERS] + number * WIDTHS[LAYERS];
        double start = cells[(int) (one + LAYER_START)];
        if (start < cells[(int) (one + LAYER_STATES)] || start >= cells[(int) (one + LAYER_STATES_END)]) return false;
    }
    for (long number = 0; number < counts[AXES]; number++) {
        one = rows[AXES] + number * WIDTHS[AXES];
        if (cells[(int) (one + AXIS_LOW)] > cells[(int) (one + AXIS_HIGH)] || !(cells[(int) (one + AXIS_STEP)] > 0.0)) return false;
    }
    for (long number = 0; number < counts[ACTS]; number++) {
        if (!actAgrees(cells, counts, names, rows[ACTS] + number * WIDTHS[ACTS])) return false;
    }
    for (long number = 0; number < counts[CLIPS]; number++) {
        if (!clipAgrees(cells, rows, rows[CLIPS] + number * WIDTHS[CLIPS])) return false;
    }
    for (long number = 0; number < counts[STATES]; number++) {
        if (!stateAgrees(cells, counts, rows, rows[STATES] + number * WIDTHS[STATES])) return false;
    }
    if (!shapesAgree(cells, counts, rows)) return false;
    return programsAgree(cells, counts, names, rows, room);
}

// How long the arrays of a table are, that has so many rows in each section.
private static long laidSize(long[] counts) {
    long total = HEAD_SIZE + 3 * counts[PARAMETERS];
    for (long section = 0; section < SECTION_COUNT; section++) total += counts[(int) section] * SIZES[(int) section];
    return total;
}

// List the pulses, with whether they come from outside, and the buttons.
private static void layKinds(long[] counts, long[] m, long to) {
    m[HEAD_PULSES] = to;
    for (long parameter = 0; parameter < counts[PARAMETERS]; parameter++) {
        long one = m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE;
        if (m[(int) (one + PARAMETER_KIND)] == PULSE) {
            m[(int) to] = parameter;
            m[(int) (to + 1)] = m[(int) (one + PARAMETER_OWNER)] < GRAPH ? 1 : 0;
            to += 2;
        }
    }
    m[HEAD_PULSES_END] = to;
    m[HEAD_BUTTONS] = to;
    for (long parameter = 0; parameter < counts[PARAMETERS]; parameter++) {
        if (m[(int) (m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_KIND)] == BUTTON) {
            m[(int) to] = parameter;
            to += 1;
        }
    }
    m[HEAD_BUTTONS_END] = to;
}

// Say where a situation has what.
private static void laySituation(long[] counts, long[] names, long[] m) {
    long symbols = counts[PARAMETERS];
    m[HEAD_LAYER_COUNT] = counts[LAYERS];
    m[HEAD_COUNTERS] = FIRST_PLAYER + counts[LAYERS] * PLAYER_SIZE;
    m[HEAD_AGES] = m[HEAD_COUNTERS] + counts[MEMORIES];
    m[HEAD_SINCE] = m[HEAD_AGES] + counts[BUFFERS];
    m[HEAD_HELD] = m[HEAD_SINCE] + counts[CLOCKS];
    m[HEAD_RAISED] = m[HEAD_HELD] + symbols;
    m[HEAD_LOCKS] = m[HEAD_RAISED] + symbols;
    m[HEAD_SPANS] = m[HEAD_LOCKS] + names[NAMED_LOCKS];
    m[HEAD_SPANS_END] = m[HEAD_SPANS] + names[NAMED_SPANS];
    m[HEAD_REMEMBERED] = m[HEAD_SPANS_END];
    m[HEAD_HELD_NOW] = m[HEAD_REMEMBERED] + counts[MEMORIES];
    m[HEAD_HELD_BEFORE] = m[HEAD_HELD_NOW] + symbols;
    m[HEAD_CHANGED] = m[HEAD_HELD_BEFORE] + symbols;
    m[HEAD_COUNTS] = m[HEAD_CHANGED] + 1;
    m[HEAD_PLACE] = symbols;
    m[HEAD_KEPT] = symbols + PLAYED;
    m[HEAD_STACK] = m[HEAD_KEPT] + counts[STICKS];
    m[HEAD_VALUES] = m[HEAD_STACK] + counts[PROGRAMS] + 1;
}

// Where a program goes on at a row with a truth on top: the address of the next instruction, or TRUE or FALSE.
private static long onward(long[] m, long at, long end, boolean holds) {
    while (at < end) {
        long op = m[(int) (at + STEP_OP)];
        if (op == OP_NOT) {
            holds = !holds;
            at += STEP_SIZE;
        } else if (op == OP_SKIP_FALSE || op == OP_SKIP_TRUE) {
            if (holds == (op == OP_SKIP_FALSE)) return at + STEP_SIZE;
            at += STEP_SIZE * (1 + m[(int) (at + STEP_A)]);
        } else return at;
    }
    return holds ? TRUE : FALSE;
}

// Turn a program into instructions, each in the place of the first row it stands for; where it begins. number: it comes to a number
// and not to a truth.
private static long link(long[] m, double[] r, long begin, long end, boolean number) {
    long at = begin;
    while (at < end) {
        long op = m[(int) (at + STEP_OP)], rows = 1;
        long after = at + STEP_SIZE < end ? m[(int) (at + STEP_SIZE + STEP_OP)] : -1;
        long last = at + 2 * STEP_SIZE < end ? m[(int) (at + 2 * STEP_SIZE + STEP_OP)] : -1;
        if (op == OP_PARAMETER && after == OP_PARAMETER && last == OP_COMPARE) {
            m[(int) (at + STEP_OP)] = PAIR;
            rows = 3;
        } else if (op == OP_PARAMETER && after == OP_NUMBER && last == OP_COMPARE) {
            m[(int) (at + STEP_OP)] = COMPARED;
            rows = 3;
        } else if (op == OP_STAY && after == OP_NUMBER && last == OP_COMPARE) {
            m[(int) (at + STEP_OP)] = STAYED;
            rows = 3;
        } else if (op == OP_SINCE && after == OP_NUMBER && last == OP_COMPARE) {
            m[(int) (at + STEP_OP)] = SINCE;
            rows = 3;
        } else if (op == OP_COMPARE) {
            m[(int) (at + STEP_OP)] = COMPARE_STACK;
            m[(int) (at + STEP_B)] = STANDS[(int) m[(int) (at + STEP_A)]];
        } else if (op == OP_COMPUTE) m[(int) (at + STEP_OP)] = COMPUTE;
        else if (op < OP_NOT) {
            m[(int) (at + STEP_OP)] = LAID[(int) op];
            if (op == OP_PARAMETER || op == OP_NUMBER) {
                boolean tested = after == OP_NOT || after == OP_SKIP_FALSE || after == OP_SKIP_TRUE || (after < 0 && !number);
                if (!tested) m[(int) (at + STEP_OP)] = op == OP_PARAMETER ? PUSH_VALUE : PUSH_NUMBER;
            }
        }
        if (rows == 3) {
            m[(int) (at + STEP_B)] = STANDS[(int) m[(int) (at + 2 * STEP_SIZE + STEP_A)]];
            r[(int) (at + STEP_VALUE)] = r[(int) (at + STEP_SIZE + STEP_VALUE)];
        }
        long following = at + rows * STEP_SIZE;
        m[(int) (at + STEP_YES)] = onward(m, following, end, true);
        m[(int) (at + STEP_NO)] = onward(m, following, end, false);
        at = following;
    }
    return begin;
}

// Turn the program of each transition, memory, formula, guard and accessory into instructions.
private static void linkAll(long[] m, double[] r) {
    for (long way = m[HEAD_WAYS]; way < m[HEAD_WAYS_END]; way += WAY_SIZE) {
        m[(int) (way + WAY_PROGRAM)] = link(m, r, m[(int) (way + WAY_PROGRAM)], m[(int) (way + WAY_PROGRAM_END)], false);
    }
    for (long memory = m[HEAD_MEMORIES]; memory < m[HEAD_MEMORIES_END]; memory += MEMORY_SIZE) {
        m[(int) (memory + MEMORY_PROGRAM)] = link(m, r, m[(int) (memory + MEMORY_PROGRAM)], m[(int) (memory + MEMORY_PROGRAM_END)], false);
    }
    for (long formula = m[HEAD_FORMULAS]; formula < m[HEAD_FORMULAS_END]; formula += FORMULA_SIZE) {
        long one = m[HEAD_PARAMETERS] + m[(int) (formula + FORMULA_PARAMETER)] * PARAMETER_SIZE;
        boolean number = m[(int) (one + PARAMETER_KIND)] <= BEARING;
        m[(int) (formula + FORMULA_PROGRAM)] = link(m, r, m[(int) (formula + FORMULA_PROGRAM)], m[(int) (formula + FORMULA_PROGRAM_END)], number);
    }
    for (long rules = m[HEAD_CONTACT]; rules < m[HEAD_CONTACT_END]; rules += CONTACT_SIZE) {
        m[(int) (rules + CONTACT_GUARDS)] = link(m, r, m[(int) (rules + CONTACT_GUARDS)], m[(int) (rules + CONTACT_GUARDS_END)], false);
    }
    for (long one = m[HEAD_ACCESSORIES]; one < m[HEAD_ACCESSORIES_END]; one += ACCESSORY_SIZE) {
        m[(int) (one + ACCESSORY_SHOWN)] = link(m, r, m[(int) (one + ACCESSORY_SHOWN)], m[(int) (one + ACCESSORY_SHOWN_END)], false);
    }
}

// How many marks can fire in one tick at most: in each layer those of a step of a clip, and those of one that is entered.
private static long mostTold(long[] m, double[] r) {
    long total = 0;
    for (long layer = m[HEAD_LAYERS]; layer < m[HEAD_LAYERS_END]; layer += LAYER_SIZE) {
        long most = 0, begun = 0;
        for (long state = m[(int) (layer + LAYER_STATES)]; state < m[(int) (layer + LAYER_STATES_END)]; state += STATE_SIZE) {
            for (long sample = m[(int) (state + STATE_SAMPLES)]; sample < m[(int) (state + STATE_SAMPLES_END)]; sample += SAMPLE_SIZE) {
                long clip = m[(int) (sample + SAMPLE_CLIP)];
                long cues = Math.floorDiv(m[(int) (clip + CLIP_CUES_END)] - m[(int) (clip + CLIP_CUES)], CUE_SIZE);
                double fastest = m[(int) (clip + CLIP_PACE)] < 0 ? 1.0 : r[(int) (clip + CLIP_HIGH)];
                long lap = m[(int) (clip + CLIP_LENGTH)] - (0 > m[(int) (clip + CLIP_BEGIN)] ? 0 : m[(int) (clip + CLIP_BEGIN)]);
                most = (cues * (Math.floorDiv((long) (fastest * TICK), lap) + 2) > most ? cues * (Math.floorDiv((long) (fastest * TICK), lap) + 2) : most);
                begun = (cues > begun ? cues : begun);
            }
        }
        total += most + begun;
    }
    return total;
}

// Lay a table out in m and r, arrays of zeros; names are how many of each kind there are.
private static void lay(double[] cells, long[] counts, long[] names, long[] m, double[] r) {
    long end = HEAD_SIZE;
    for (long section = 0; section < SECTION_COUNT; section++) {
        m[(int) (2 * section)] = end;
        end += counts[(int) section] * SIZES[(int) section];
        m[(int) (2 * section + 1)] = end;
    }
    long cell = 0, to = HEAD_SIZE, first = 0;
    for (long section = 0; section < SECTION_COUNT; section++) {
        for (long again = 0; again < counts[(int) section]; again++) {
            long target = 0;
            for (long column = first; column < first + SIZES[(int) section]; column++) {
                if (RULE[(int) column] != WITHIN) {
                    if (REAL[(int) column] != 0) r[(int) to] = cells[(int) cell];
                    else {
                        m[(int) to] = (long) cells[(int) cell];
                        if (RULE[(int) column] == FIRST || RULE[(int) column] == ADDRESS) target = ABOUT[(int) column];
                        if (RULE[(int) column] == FIRST || RULE[(int) column] == END || RULE[(int) column] == ADDRESS) {
                            m[(int) to] = m[(int) (2 * target)] + m[(int) to] * SIZES[(int) target];
                        }
                    }
                    cell += 1;
                }
                to += 1;
            }
        }
        first += SIZES[(int) section];
    }
    layKinds(counts, m, to);
    laySituation(counts, names, m);
    linkAll(m, r);
    m[HEAD_MOST_TOLD] = mostTold(m, r);
}

// Before the inputs are set: pulses go off, or on where one was raised, and the sticks' bearings are kept.
private static void openTick(long[] m, long[] z, double[] v) {
    for (long pulse = m[HEAD_PULSES]; pulse < m[HEAD_PULSES_END]; pulse += PULSE_SIZE) {
        v[(int) m[(int) pulse]] = m[(int) (pulse + 1)] != 0 ? 0.0 : (double) z[(int) (m[HEAD_RAISED] + m[(int) pulse])];
    }
    long kept = m[HEAD_KEPT];
    for (long stick = m[HEAD_STICKS]; stick < m[HEAD_STICKS_END]; stick += STICK_SIZE) {
        v[(int) kept] = v[(int) m[(int) (stick + STICK_BEARING)]];
        kept += 1;
    }
}

// A stick's bearing is what it was while there is no push.
private static void keepBearings(long[] m, double[] v) {
    long kept = m[HEAD_KEPT];
    for (long stick = m[HEAD_STICKS]; stick < m[HEAD_STICKS_END]; stick += STICK_SIZE) {
        if (v[(int) m[(int) (stick + STICK_PUSH)]] == 0.0) v[(int) m[(int) (stick + STICK_BEARING)]] = v[(int) kept];
        kept += 1;
    }
}

// Nothing has been asked of the body on this tick yet; for games that move it by their own rules.
private static void forgetAsked(long[] m, double[] v) {
    long place = m[HEAD_PLACE];
    v[(int) (place + FIELDS_TRAVEL)] = 0.0;
    v[(int) (place + FIELDS_TRAVEL_UP)] = 0.0;
    v[(int) (place + FIELDS_TRAVELS)] = 0.0;
    v[(int) (place + FIELDS_MODE)] = 0.0;
    v[(int) (place + FIELDS_PUSH)] = 0.0;
    v[(int) (place + FIELDS_PUSH_UP)] = 0.0;
}

// What a program comes to: its number, or 1 for true and 0 for false.
private static double worth(long[] m, double[] r, long[] z, double[] v, long program, boolean number) {
    boolean holds = run(m, r, z, v, program);
    if (number) return v[(int) m[HEAD_STACK]];
    return holds ? 1.0 : 0.0;
}

// Bring the parameters that are computed from others up to date.
private static void computeFormulas(long[] m, double[] r, long[] z, double[] v) {
    for (long formula = m[HEAD_FORMULAS]; formula < m[HEAD_FORMULAS_END]; formula += FORMULA_SIZE) {
        long parameter = m[(int) (formula + FORMULA_PARAMETER)];
        boolean number = m[(int) (m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_KIND)] <= BEARING;
        v[(int) parameter] = worth(m, r, z, v, m[(int) (formula + FORMULA_PROGRAM)], number);
    }
}

// Crossfades run on by one tick.
private static void fadeOn(long[] m, long[] z) {
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long player = FIRST_PLAYER + layer * PLAYER_SIZE;
        long left = z[(int) (player + PLAYER_FADE_LEFT)] - 1;
        if (left < -1) continue;
        z[(int) (player + PLAYER_FADE_LEFT)] = left;
        if (left < 0) {
            z[(int) (player + PLAYER_FADE_STATE)] = 0;
            z[(int) (player + PLAYER_FADE_PICK)] = 0;
            z[(int) (player + PLAYER_FADE_HEAD)] = 0;
            z[(int) (player + PLAYER_FADE_BLOCKS)] = 0;
            continue;
        }
        long state = m[HEAD_STATES] + z[(int) (player + PLAYER_FADE_STATE)] * STATE_SIZE;
        if (m[(int) (state + STATE_SAMPLES)] < m[(int) (state + STATE_SAMPLES_END)]) {
            long sample = m[(int) (state + STATE_SAMPLES)] + z[(int) (player + PLAYER_FADE_PICK)] * SAMPLE_SIZE;
            z[(int) (player + PLAYER_FADE_HEAD)] = folded(m, m[(int) (sample + SAMPLE_CLIP)], z[(int) (player + PLAYER_FADE_HEAD)] + TICK);
        }
    }
}

// Write the parameters that spans of every layer but one hold from place held on, and from spans on (-1: nowhere) which are on.
private static void look(long[] m, long[] z, long held, long spans, long but) {
    for (long one = m[HEAD_HOLDS]; one < m[HEAD_HOLDS_END]; one++) z[(int) (held + m[(int) one])] = 0;
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long clip = clipOf(m, z, layer);
        if (clip < 0 || layer == but) continue;
        long head = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD)];
        for (long window = m[(int) (clip + CLIP_WINDOWS)]; window < m[(int) (clip + CLIP_WINDOWS_END)]; window += WINDOW_SIZE) {
            if (m[(int) (window + WINDOW_START)] <= head && head < m[(int) (window + WINDOW_END)]) {
                if (m[(int) (window + WINDOW_HOLD)] >= 0) z[(int) (held + m[(int) (window + WINDOW_HOLD)])] = 1;
                if (spans >= 0) z[(int) (spans + m[(int) (window + WINDOW_SPAN)])] = 1;
            }
        }
    }
}

// Work out which spans are on; flags they hold go on, and off again where they were held before.
private static void seeSpans(long[] m, double[] r, long[] z, double[] v, boolean before) {
    if (m[HEAD_WINDOWS] == m[HEAD_WINDOWS_END]) return;
    long heldNow = m[HEAD_HELD_NOW], heldBefore = m[HEAD_HELD_BEFORE];
    for (long span = m[HEAD_SPANS]; span < m[HEAD_SPANS_END]; span++) z[(int) span] = 0;
    look(m, z, heldNow, m[HEAD_SPANS], -1);
    boolean changed = false;
    for (long one = m[HEAD_HOLDS]; one < m[HEAD_HOLDS_END]; one++) {
        long parameter = m[(int) one];
        if (z[(int) (heldNow + parameter)] != 0 || (before && z[(int) (heldBefore + parameter)] != 0)) {
            v[(int) parameter] = (double) z[(int) (heldNow + parameter)];
            changed = true;
        }
    }
    if (changed) computeFormulas(m, r, z, v);
}

// Countdowns go down by one.
private static void countDown(long[] m, double[] r, long[] z, double[] v) {
    for (long countdown = m[HEAD_COUNTDOWNS]; countdown < m[HEAD_COUNTDOWNS_END]; countdown++) {
        v[(int) m[(int) countdown]] = v[(int) m[(int) countdown]] > 1.0 ? v[(int) m[(int) countdown]] - 1.0 : 0.0;
    }
    if (m[HEAD_COUNTDOWNS] < m[HEAD_COUNTDOWNS_END]) computeFormulas(m, r, z, v);
}

// Note the parameters that spans hold on, before anything moves.
private static void noteHeld(long[] m, long[] z) {
    if (m[HEAD_WINDOWS] < m[HEAD_WINDOWS_END] && m[HEAD_HOLDS] < m[HEAD_HOLDS_END]) look(m, z, m[HEAD_HELD_BEFORE], -1, -1);
}

// The way of moving in a state: the first whose choice it is, counted from 1; 0: none of them.
private static long wayOf(long[] m, double[] r, double[] v, long state) {
    long number = 0;
    for (long way = m[(int) (state + STATE_MOVED)]; way < m[(int) (state + STATE_MOVED_END)]; way += MOVED_SIZE) {
        number += 1;
        if (v[(int) m[(int) (way + MOVED_PARAMETER)]] == r[(int) (way + MOVED_VALUE)]) return number;
    }
    return 0;
}

// How far the value an axis reads is from a place on it, in rulings.
private static double rulingsTo(long[] m, double[] r, double[] v, long axis, double at) {
    double value = valueOn(m, r, v, axis);
    if (m[(int) (axis + AXIS_ROUND)] != 0) return turn(at, value) / r[(int) (axis + AXIS_STEP)];
    return (value - at) / r[(int) (axis + AXIS_STEP)];
}

// The sample a state would show now, after the one picked before (-1: none was).
private static long picked(long[] m, double[] r, double[] v, long state, long before) {
    long way = wayOf(m, r, v, state);
    if (m[(int) (state + STATE_BLENDS)] == 0) return way;
    long block = samplesEach(m, state);
    long number = way * block;
    if (before >= 0) before = number + before % block;
    long best = number, first = m[(int) (state + STATE_SAMPLES)] + number * SAMPLE_SIZE;
    double nearest = -1.0, distance = -1.0;
    for (long sample = first; sample < first + block * SAMPLE_SIZE; sample += SAMPLE_SIZE) {
        double total = 0.0;
        long place = m[HEAD_PLACES] + m[(int) (sample + SAMPLE_PLACES)];
        for (long axis = m[(int) (state + STATE_AXES)]; axis < m[(int) (state + STATE_AXES_END)]; axis += AXIS_SIZE) {
            double at = r[(int) place];
            place += 1;
            if (at == at) {
                double away = rulingsTo(m, r, v, axis, at);
                total = total + away * away;
            }
        }
        if (number == before) distance = total;
        if (nearest < 0.0 || total < nearest) {
            best = number;
            nearest = total;
        }
        number += 1;
    }
    double sticky = r[(int) (state + STATE_STICKY)];
    if (sticky > 0.0 && before >= 0) return Math.sqrt(nearest) < Math.sqrt(distance) - sticky ? best : before;
    return best;
}

// How far a path goes while the playhead steps from head by amount, in a clip of length that goes back to there from its end (-1:
// it stays there).
private static double gone(double[] r, long begin, long end, long length, long back, long head, long amount, long which) {
    long moved = head + amount;
    if (moved < length || back < 0) {
        return place(r, begin, end, (length < moved ? length : moved), which) - place(r, begin, end, (length < head ? length : head), which);
    }
    long lap = length - back, over = moved - length;
    double whole = place(r, begin, end, length, which) - place(r, begin, end, back, which);
    double first = place(r, begin, end, length, which) - place(r, begin, end, head, which);
    double rest = place(r, begin, end, back + over % lap, which) - place(r, begin, end, back, which);
    return first + Math.floorDiv(over, lap) * whole + rest;
}

// How often an instant lies in (head, head + amount]; the end of a clip that repeats from its start is its start.
private static long passed(long[] m, long clip, long at, long head, long amount) {
    long length = m[(int) (clip + CLIP_LENGTH)], back = m[(int) (clip + CLIP_BEGIN)];
    if (at < back || back < 0) return head < at && at <= (length < head + amount ? length : head + amount) ? 1 : 0;
    if (at > length) return 0;
    if (at == length && back == 0) at = 0;
    if (amount < length - head) return head < at && at <= head + amount ? 1 : 0;
    long since = head + amount - at, before = head - at;
    long laps = since >= 0 ? Math.floorDiv(since, length - back) + 1 : 0;
    return laps - (before >= 0 ? Math.floorDiv(before, length - back) + 1 : 0);
}

// Note that a mark fires, where there is room.
private static void tell(long[] m, long[] z, long[] k, long layer, long cue) {
    if (k[0] < k[1]) {
        long at = TOLD + k[0] * TOLD_SIZE;
        k[(int) at] = z[NOW_TICK];
        k[(int) (at + 1)] = layer;
        k[(int) (at + 2)] = m[(int) (cue + CUE_MARK)];
        k[(int) (at + 3)] = Math.floorDiv(cue - m[HEAD_CUES], CUE_SIZE);
        k[(int) (at + 4)] = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STATE)];
        k[(int) (at + 5)] = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK)];
    }
    k[0] += 1;
}

// Effects; a pulse raised at_once is true for the rest of this tick, else throughout the next.
private static void apply(long[] m, double[] r, long[] z, double[] v, long begin, long end, boolean atOnce) {
    for (long act = begin; act < end; act += ACT_SIZE) {
        long does = m[(int) (act + ACT_DO)], target = m[(int) (act + ACT_TARGET)];
        double value = r[(int) (act + ACT_VALUE)];
        if (does == SET) v[(int) target] = value;
        else if (does == ADD) v[(int) target] = fitted(m, r, target, v[(int) target] + value);
        else if (does == RAISE) {
            if (atOnce) v[(int) target] = 1.0;
            else z[(int) (m[HEAD_RAISED] + target)] = 1;
        } else if (does == LOCK) z[(int) (m[HEAD_LOCKS] + target)] = 1;
        else if (does == UNLOCK) z[(int) (m[HEAD_LOCKS] + target)] = 0;
        else if (does == FREEZE) z[NOW_FREEZE] = ((long) value > z[NOW_FREEZE] ? (long) value : z[NOW_FREEZE]);
        else if (does == MODE) v[(int) (m[HEAD_PLACE] + FIELDS_MODE)] = value;
        else if (does == PUSH) v[(int) (m[HEAD_PLACE] + FIELDS_PUSH)] += value;
        else if (does == PUSH_UP) v[(int) (m[HEAD_PLACE] + FIELDS_PUSH_UP)] += value;
        computeFormulas(m, r, z, v);
    }
}

// The marks in (head, head + amount], in time order: again and again the next one.
private static void fire(long[] m, double[] r, long[] z, double[] v, long[] k, long layer, long clip, long head, long amount) {
    long length = m[(int) (clip + CLIP_LENGTH)], back = m[(int) (clip + CLIP_BEGIN)];
    long last = -1, lastCue = -1;
    while (true) {
        long best = -1, bestCue = -1;
        for (long cue = m[(int) (clip + CLIP_CUES)]; cue < m[(int) (clip + CLIP_CUES_END)]; cue += CUE_SIZE) {
            long at = m[(int) (cue + CUE_AT)];
            long laps = passed(m, clip, at, head, amount);
            if (laps <= 0) continue;
            if (at == length && back == 0) at = 0;
            long time = (back < 0 || at > head) ? at - head : at - head + length - back;
            for (long again = 0; again < laps; again++) {
                if ((time > last || (time == last && cue > lastCue)) && (best < 0 || time < best)) {
                    best = time;
                    bestCue = cue;
                    break;
                }
                time += length - back;
            }
        }
        if (best < 0) return;
        last = best;
        lastCue = bestCue;
        tell(m, z, k, layer, bestCue);
        apply(m, r, z, v, m[(int) (bestCue + CUE_ACTS)], m[(int) (bestCue + CUE_ACTS_END)], true);
    }
}

// A layer's stay goes up, its playhead steps, and the marks passed fire.
private static void playOn(long[] m, double[] r, long[] z, double[] v, long[] k, long layer) {
    long player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
    z[(int) (player + PLAYER_STAY)] += 1;
    long first = m[(int) (state + STATE_SAMPLES)];
    if (first == m[(int) (state + STATE_SAMPLES_END)]) return;
    long before = z[(int) (player + PLAYER_PICK)], head = z[(int) (player + PLAYER_HEAD)];
    long pick = picked(m, r, v, state, before);
    long clip = m[(int) (first + pick * SAMPLE_SIZE + SAMPLE_CLIP)];
    long length = m[(int) (clip + CLIP_LENGTH)], back = m[(int) (clip + CLIP_BEGIN)];
    if (pick != before) {
        head = takenOver(m, state, before, pick, head);
        z[(int) (player + PLAYER_PICK)] = pick;
    }
    long amount = paceOf(m, r, v, clip);
    if (head + amount >= length && back >= 0) z[(int) (player + PLAYER_OVER)] = 1;
    z[(int) (player + PLAYER_HEAD)] = folded(m, clip, head + amount);
    if (m[(int) (clip + CLIP_GOES)] != 0) {
        long begin = m[(int) (clip + CLIP_KEYS)], end = m[(int) (clip + CLIP_KEYS_END)], place = m[HEAD_PLACE];
        v[(int) (place + FIELDS_TRAVEL)] += gone(r, begin, end, length, back, head, amount, X);
        v[(int) (place + FIELDS_TRAVEL_UP)] += gone(r, begin, end, length, back, head, amount, Y);
        v[(int) (place + FIELDS_TRAVELS)] = (double) ((long) v[(int) (place + FIELDS_TRAVELS)] | m[(int) (clip + CLIP_GOES)]);
    }
    if (m[(int) (clip + CLIP_CUES)] < m[(int) (clip + CLIP_CUES_END)]) fire(m, r, z, v, k, layer, clip, head, amount);
}

// A press or a leaving a tick ago more; one that is too old for any condition to ask is forgotten.
private static void older(long[] z, long age, long most) {
    if (z[(int) age] >= 0) z[(int) age] = z[(int) age] + 1 < most ? z[(int) age] + 1 : -1;
}

// A memory's counter after a tick on which its operand was true or not (holds).
private static long counted(long kind, long counter, long ticks, boolean holds) {
    if (kind == HELD_FOR) return holds ? (ticks < counter + 1 ? ticks : counter + 1) : 0;
    return holds ? ticks : (0 > counter - 1 ? 0 : counter - 1);
}

// Step 5: a press begins its age, other ages grow, and memories count; where nothing has changed, an operand that lasts is what it
// was, which the counters tell.
private static void remember(long[] m, double[] r, long[] z, double[] v, boolean changed) {
    long age = m[HEAD_AGES];
    for (long buffer = m[HEAD_BUFFERS]; buffer < m[HEAD_BUFFERS_END]; buffer += BUFFER_SIZE) {
        long parameter = m[(int) (buffer + BUFFER_PARAMETER)];
        if (v[(int) parameter] != 0.0 && z[(int) (m[HEAD_HELD] + parameter)] == 0) z[(int) age] = 0;
        else older(z, age, m[(int) (buffer + BUFFER_MOST)]);
        age += 1;
    }
    age = m[HEAD_SINCE];
    for (long clock = m[HEAD_CLOCKS]; clock < m[HEAD_CLOCKS_END]; clock++) {
        older(z, age, m[(int) clock]);
        age += 1;
    }
    long at = 0;
    for (long memory = m[HEAD_MEMORIES]; memory < m[HEAD_MEMORIES_END]; memory += MEMORY_SIZE) {
        long counter = z[(int) (m[HEAD_COUNTERS] + at)], ticks = m[(int) (memory + MEMORY_TICKS)];
        long kind = m[(int) (memory + MEMORY_WITHIN)];
        boolean holds = false;
        if (changed || m[(int) (memory + MEMORY_LASTS)] == 0) holds = run(m, r, z, v, m[(int) (memory + MEMORY_PROGRAM)]);
        else holds = kind == HELD_FOR ? counter > 0 : counter >= ticks;
        counter = counted(kind, counter, ticks, holds);
        z[(int) (m[HEAD_REMEMBERED] + at)] = (kind == SEEN_WITHIN ? counter > 0 : counter >= ticks) ? 1 : 0;
        z[(int) (m[HEAD_COUNTERS] + at)] = counter;
        at += 1;
    }
}

// Whether anything locks movement: a state that holds still, a span, or a named lock.
private static boolean locked(long[] m, long[] z) {
    for (long at = m[HEAD_LOCKS]; at < m[HEAD_SPANS]; at++) {
        if (z[(int) at] != 0) return true;
    }
    boolean spanned = m[HEAD_WINDOWS] < m[HEAD_WINDOWS_END];
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        if (m[(int) (stateOf(m, z, layer) + STATE_STILL)] != 0) return true;
        if (!spanned) continue;
        long clip = clipOf(m, z, layer);
        if (clip < 0) continue;
        long head = z[(int) (FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD)];
        for (long window = m[(int) (clip + CLIP_WINDOWS)]; window < m[(int) (clip + CLIP_WINDOWS_END)]; window += WINDOW_SIZE) {
            if (m[(int) (window + WINDOW_LOCK)] != 0 && m[(int) (window + WINDOW_START)] <= head && head < m[(int) (window + WINDOW_END)]) {
                return true;
            }
        }
    }
    return false;
}

// The spans of a layer's state that is left are over: flags that only they held go off.
private static void endSpans(long[] m, double[] r, long[] z, double[] v, long layer) {
    if (m[HEAD_HOLDS] >= m[HEAD_HOLDS_END]) return;
    look(m, z, m[HEAD_HELD_NOW], -1, layer);
    boolean ended = false;
    for (long one = m[HEAD_HOLDS]; one < m[HEAD_HOLDS_END]; one++) {
        if (z[(int) (m[HEAD_HELD_BEFORE] + m[(int) one])] != 0 && z[(int) (m[HEAD_HELD_NOW] + m[(int) one])] == 0) {
            v[(int) m[(int) one]] = 0.0;
            ended = true;
        }
    }
    if (ended) computeFormulas(m, r, z, v);
}

// The number of the first axis of a state's that reads a parameter; -1: none.
private static long axisLike(long[] m, long state, long parameter) {
    long number = 0;
    for (long axis = m[(int) (state + STATE_AXES)]; axis < m[(int) (state + STATE_AXES_END)]; axis += AXIS_SIZE) {
        if (parameter >= 0 && m[(int) (axis + AXIS_PARAMETER)] == parameter) return number;
        number += 1;
    }
    return -1;
}

// The sample of a state that counts as picked before, when the sample pick was shown in the state left; -1: none.
private static long keptFrom(long[] m, double[] r, long left, long pick, long state) {
    if (left < 0 || pick < 0 || m[(int) (left + STATE_BLENDS)] == 0 || m[(int) (state + STATE_BLENDS)] == 0) return -1;
    long shown = m[HEAD_PLACES] + m[(int) (m[(int) (left + STATE_SAMPLES)] + pick * SAMPLE_SIZE + SAMPLE_PLACES)];
    long number = 0;
    for (long sample = m[(int) (state + STATE_SAMPLES)]; sample < m[(int) (state + STATE_SAMPLES_END)]; sample += SAMPLE_SIZE) {
        long place = m[HEAD_PLACES] + m[(int) (sample + SAMPLE_PLACES)];
        boolean both = false, same = true;
        for (long axis = m[(int) (state + STATE_AXES)]; axis < m[(int) (state + STATE_AXES_END)]; axis += AXIS_SIZE) {
            long old = axisLike(m, left, m[(int) (axis + AXIS_PARAMETER)]);
            if (old >= 0) {
                double one = r[(int) (shown + old)], two = r[(int) place];
                both = true;
                same = same && (one == two || (one != one && two != two));
            }
            place += 1;
        }
        if (!both) return -1;
        if (same) return number;
        number += 1;
    }
    return -1;
}

// The marks at the very start of a clip that is entered there.
private static void fireFirst(long[] m, double[] r, long[] z, double[] v, long[] k, long layer, long clip) {
    long length = m[(int) (clip + CLIP_LENGTH)], back = m[(int) (clip + CLIP_BEGIN)];
    for (long cue = m[(int) (clip + CLIP_CUES)]; cue < m[(int) (clip + CLIP_CUES_END)]; cue += CUE_SIZE) {
        if (m[(int) (cue + CUE_AT)] == 0 || (back == 0 && m[(int) (cue + CUE_AT)] == length)) {
            tell(m, z, k, layer, cue);
            apply(m, r, z, v, m[(int) (cue + CUE_ACTS)], m[(int) (cue + CUE_ACTS_END)], false);
        }
    }
}

// The layer's new state begins, at the same share of its clip as a head in a clip of old_length; left is the state before (-1:
// none), which showed the sample shown (-1: none).
private static void enter(long[] m, double[] r, long[] z, double[] v, long[] k, long layer, long head, long oldLength, long left, long shown) {
    long player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
    z[(int) (player + PLAYER_HEAD)] = 0;
    z[(int) (player + PLAYER_PICK)] = 0;
    z[(int) (player + PLAYER_OVER)] = 0;
    apply(m, r, z, v, m[(int) (state + STATE_ENTRY)], m[(int) (state + STATE_ENTRY_END)], false);
    long first = m[(int) (state + STATE_SAMPLES)];
    if (first == m[(int) (state + STATE_SAMPLES_END)]) return;
    long pick = picked(m, r, v, state, keptFrom(m, r, left, shown, state));
    z[(int) (player + PLAYER_PICK)] = pick;
    long clip = m[(int) (first + pick * SAMPLE_SIZE + SAMPLE_CLIP)];
    if (head != 0 && oldLength != 0) {
        z[(int) (player + PLAYER_HEAD)] = folded(m, clip, Math.floorDiv(head * m[(int) (clip + CLIP_LENGTH)], oldLength));
    }
    if (z[(int) (player + PLAYER_HEAD)] == 0) fireFirst(m, r, z, v, k, layer, clip);
}

// Take a transition: leave, change over, enter.
private static void take(long[] m, double[] r, long[] z, double[] v, long[] k, long layer, long way) {
    noteHeld(m, z);
    long player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
    long old = z[(int) (player + PLAYER_STATE)], target = m[(int) (way + WAY_TARGET)];
    long pick = z[(int) (player + PLAYER_PICK)], head = z[(int) (player + PLAYER_HEAD)], length = 0;
    for (long use = m[(int) (way + WAY_USES)]; use < m[(int) (way + WAY_USES_END)]; use += USE_SIZE) {
        long age = m[HEAD_AGES] + m[(int) (use + USE_BUFFER)];
        if (z[(int) age] < m[(int) (use + USE_TICKS)]) z[(int) age] = -1;
    }
    boolean shown = m[(int) (state + STATE_SAMPLES)] < m[(int) (state + STATE_SAMPLES_END)];
    if (shown) length = m[(int) (m[(int) (m[(int) (state + STATE_SAMPLES)] + pick * SAMPLE_SIZE + SAMPLE_CLIP)] + CLIP_LENGTH)];
    apply(m, r, z, v, m[(int) (state + STATE_LEAVE)], m[(int) (state + STATE_LEAVE_END)], false);
    endSpans(m, r, z, v, layer);
    if (target != old && m[(int) (state + STATE_CLOCK)] >= 0) z[(int) (m[HEAD_SINCE] + m[(int) (state + STATE_CLOCK)])] = 0;
    boolean fading = m[(int) (way + WAY_FADE)] > 0;
    z[(int) (player + PLAYER_FADE_STATE)] = fading ? old : 0;
    z[(int) (player + PLAYER_FADE_PICK)] = fading ? pick : 0;
    z[(int) (player + PLAYER_FADE_HEAD)] = fading ? head : 0;
    z[(int) (player + PLAYER_FADE_LEFT)] = fading ? m[(int) (way + WAY_FADE)] : -1;
    z[(int) (player + PLAYER_FADE_BLOCKS)] = fading ? m[(int) (way + WAY_BLOCKS)] : 0;
    z[(int) (player + PLAYER_STATE)] = target;
    z[(int) (player + PLAYER_STAY)] = 0;
    enter(m, r, z, v, k, layer, m[(int) (way + WAY_KEEP)] != 0 ? head : 0, length, state, shown ? pick : -1);
    seeSpans(m, r, z, v, false);
}

// One tick, after inputs and body have been set; taken is told each layer's transition from place at on (-1: none). changed: values
// from outside are not all what they were on the tick before.
private static void tick(long[] m, double[] r, long[] z, double[] v, long[] k, boolean changed, long[] taken, long at) {
    boolean frozen = z[NOW_FREEZE] > 0;
    computeFormulas(m, r, z, v);
    for (long pulse = m[HEAD_PULSES]; pulse < m[HEAD_PULSES_END]; pulse += PULSE_SIZE) {
        z[(int) (m[HEAD_RAISED] + m[(int) pulse])] = 0;
    }
    fadeOn(m, z);
    if (frozen) {
        z[NOW_FREEZE] -= 1;
        seeSpans(m, r, z, v, false);
    } else {
        countDown(m, r, z, v);
        noteHeld(m, z);
        for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) playOn(m, r, z, v, k, layer);
        seeSpans(m, r, z, v, true);
    }
    remember(m, r, z, v, changed);
    boolean still = locked(m, z), moved = false;
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        taken[(int) (at + layer)] = -1;
        long player = FIRST_PLAYER + layer * PLAYER_SIZE;
        if (!frozen && (z[(int) (player + PLAYER_FADE_LEFT)] < 0 || z[(int) (player + PLAYER_FADE_BLOCKS)] == 0)) {
            long state = stateOf(m, z, layer);
            for (long way = m[(int) (state + STATE_WAYS)]; way < m[(int) (state + STATE_WAYS_END)]; way += WAY_SIZE) {
                if (run(m, r, z, v, m[(int) (way + WAY_PROGRAM)])) {
                    taken[(int) (at + layer)] = m[(int) (way + WAY_NUMBER)];
                    take(m, r, z, v, k, layer, way);
                    moved = true;
                    break;
                }
            }
        }
    }
    for (long button = m[HEAD_BUTTONS]; button < m[HEAD_BUTTONS_END]; button++) {
        z[(int) (m[HEAD_HELD] + m[(int) button])] = v[(int) m[(int) button]] != 0.0 ? 1 : 0;
    }
    z[NOW_LOCKED] = still || (moved && locked(m, z)) ? 1 : 0;
    z[NOW_TICK] += 1;
}

// Enter every layer's start state, just before tick 0, in a situation of zeros.
private static void enterStart(long[] m, double[] r, long[] z, double[] v, long[] k) {
    for (long parameter = 0; parameter < m[HEAD_PLACE]; parameter++) {
        v[(int) parameter] = r[(int) (m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_FIRST)];
    }
    for (long age = m[HEAD_AGES]; age < m[HEAD_HELD]; age++) z[(int) age] = -1;
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
        long player = FIRST_PLAYER + layer * PLAYER_SIZE;
        z[(int) (player + PLAYER_FADE_LEFT)] = -1;
        z[(int) (player + PLAYER_STATE)] = m[(int) (m[HEAD_LAYERS] + layer * LAYER_SIZE + LAYER_START)];
    }
    computeFormulas(m, r, z, v);
    for (long layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) enter(m, r, z, v, k, layer, 0, 0, -1, -1);
    seeSpans(m, r, z, v, false);
    z[NOW_LOCKED] = locked(m, z) ? 1 : 0;
}
    // -- printed until here --
}
