-- A game's loop with a character of Lean Step: here the lamplighter of the demo, in text instead of pictures.
--
--     lean-step export demo/lamplighter.leanstep --to table --to players --to interface --out build
--     cp examples/game.lua build && cd build && lua5.4 game.lua lamplighter.table.json

local leanstep = require("leanstep_player")
local names = require("lamplighter_names")

local RATE, GRAVITY, JUMP, FASTEST, FASTER = 60, 900, 260, 80, 500

-- What a player's hands do; a real game reads a device here.
local function hands(tick)
  return { x = tick >= 30 and tick < 150 and 1 or 0, jump = tick >= 90 and tick < 100 }
end

-- The game's own physics: it runs, jumps and falls.
local body = { x = 0.0, y = 0.0, vx = 0.0, vy = 0.0 }

function body:move(push, jumps, locked)
  local wanted, step = locked and 0 or push * FASTEST, FASTER / RATE
  self.vx = self.vx < wanted and math.min(self.vx + step, wanted) or math.max(self.vx - step, wanted)
  if jumps and self.y == 0 and not locked then self.vy = JUMP end
  self.x = self.x + self.vx / RATE
  self.y = self.y + self.vy / RATE
  self.vy = self.vy - GRAVITY / RATE
  if self.y <= 0 then self.y, self.vy = 0.0, 0.0 end
end

local hero = leanstep.player(leanstep.load(arg[1]))
local jumped, shown = false, ""
for tick = 0, 239 do
  local now = hands(tick)
  -- 1. the game moves the body; what the character locked on the tick before counts
  body:move(now.x, now.jump and not jumped, hero:locked())
  jumped = now.jump
  -- 2. the character is told about hands and body, and plays a tick
  hero:push("stick", now.x, 0)
  hero:hold(names.parameters.JUMP, now.jump)
  hero:set(names.parameters.SPEED, math.abs(body.vx))
  hero:set(names.parameters.RISE, body.vy)
  hero:set(names.parameters.GROUNDED, body.y == 0)
  hero:step()
  -- 3. the game draws what is shown, and answers what happened
  if hero:state(names.layers.BASE) ~= shown then
    shown = hero:state(names.layers.BASE)
    local picture = hero:frame(names.layers.BASE)
    print(string.format("tick %d: %s, at %.1f, shows %s", tick, shown, body.x, picture and picture.frame or "nothing"))
  end
  for _, one in ipairs(hero:marks()) do print("tick " .. tick .. ": " .. one.mark) end
end
