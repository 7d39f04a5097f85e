import { runsLines } from "./lines";

const SOURCE = `
def more(n) # all
  n * 10 # all one two
end

def choose(n) # all
  extra = 0 # all one two
  return more(n) if n == 1 # all one two
  if n == 3 # all two
    found = 1 # all
  else
    found = 2 # all two
  end
  extra += 2 while extra < 2 # all two
  more(found) + extra # all two
end
`;

runsLines("ruby", "choose.rb", SOURCE);
