#include "pattern/hand_words.h"

#include <map>

namespace uc {
namespace {

using Sentences = std::vector<std::string>;

const std::map<std::string_view, Sentences>& all_words() {
  static const std::map<std::string_view, Sentences> all{
      {"relief",
       {"Lay the sheet with the relief towards you and begin in the middle of one long pleat.",
        "Pinch each pleat up between thumb and finger along its mountain and let its valleys sink beside it; where it "
        "meets an outline, turn it on over the crease there without a break. Go from pleat to pleat towards one edge, "
        "then from the middle to the other."}},
      {"four-arm-zigzag",
       {"Hold the square in the middle flat on the table with one finger.",
        "Push the pleat of one arm in towards the square until it stands up one step, then the next arm a quarter turn "
        "on, round and round, a little each time; the square rises on its walls."}},
      {"turned-pleats",
       {"Pleat one row of parallel creases to and fro and press it flat where it stands.",
        "Turn each pleat over at its turning crease as you come to it: the second row goes over the first. Go on row "
        "by "
        "row from one edge."}},
      {"concentric-pleats",
       {"Hold two neighbouring corners of the rim and pinch the outermost pleat all round, mountain up, then the next "
        "one inwards as a valley, and so on ring by ring from the rim to the middle.",
        "Two opposite corners rise by themselves and the other two sink: help them, do not force the middle, and leave "
        "it half open."}},
      {"map",
       {"Fold the level creases to and fro, strip over strip, to one long packet.",
        "Fold the packet along its upright creases to and fro as well, each over the one before."}},
      {"chevron",
       {"Hold the two rims left and right and pinch the straight creases at the rim to and fro, a few cells deep.",
        "Work inwards from both rims: as a straight crease closes, its zigzags close with it. When all stand, push the "
        "rims together and press the packet flat."}},
      {"zigzag-row",
       {"Pleat one row to and fro from the rim and hold it between two fingers.",
        "Take in row after row behind it: the slanting creases turn each row over the last. Then press it together."}},
      {"waterbomb",
       {"Begin at a corner: push the middle of the first cell in from behind so that its four mountains stand.",
        "Go along the rim cell by cell, then take the next row; let each row push the one before together, and do not "
        "flatten any before all stand."}},
      {"triangle-row",
       {"Fold the level creases to and fro to one long packet.",
        "Fold the packet to and fro along its slanting creases: triangle over triangle."}},
      {"square-twists",
       {"Begin with the twist in the middle: pinch its four pleats up all round, pull them out a little, and turn its "
        "square until it lies flat; press it.",
        "Form the others one by one outward from it, always those that lie beside a twist that is formed, and lay all "
        "pleats down the way the first one's lie. At the end press the whole from the middle to the rim."}},
      {"twist-tiling",
       {"Begin with the tile in the middle: pinch the pleats round it up, turn it until they lie down all one way "
        "round, "
        "and press it.",
        "Form tile after tile outward from it; neighbours turn opposite ways, and the pleat between two of them is "
        "laid "
        "down once. Keep what is formed under a clip or a ruler. Press from the middle to the rim."}},
      {"triangle-sink",
       {"Begin with the triangle in the middle: pinch its three pleats up, push its middle in from the front, and let "
        "the triangle sink below the sheet as the pleats lie down round it.",
        "Form the others outward one by one, each beside one that is formed, and press each before the next."}},
      {"wrap",
       {"Hold the hub flat on the table; raise the walls along its sides until they stand square to it.",
        "Wind the sheet round the hub, all the wedges at once and all the same way: each layer bends round the corners "
        "of "
        "the one inside, mountains out and valleys in. Take up slack at the hub first, then further out, and hold the "
        "roll with a band."}},
      {"square-wrap",
       {"Hold the hub flat on the table; raise the walls along its sides until they stand square to it.",
        "Wind the four arms round the hub at once and all the same way, mountains out and valleys in, from the hub "
        "outward; hold the roll with a band."}},
      {"radial-web",
       {"Gather the wedges as an umbrella is gathered: all mountains towards you, all valleys away from you.",
        "Then turn the pleats ring by ring from the middle outward: at each ring a mountain becomes a valley and the "
        "whole "
        "turns over. Leave it half open."}},
      {"accordion-strip",
       {"Pleat the strip to and fro along its upright creases from one end.",
        "Push the slanting creases in as you go, so that each part turns against the last and the strip runs round; "
        "bring "
        "its ends together."}},
      {"accordion-cone",
       {"Pleat the strip to and fro along its upright creases and press it well.",
        "Open it like a fan from the long edge where the slanting creases begin: the points there come together to the "
        "tip. Lay each pleat over the same way round, outside on the next facet, and bend the ridges.",
        "Slip the end of the strip under the first pleat so that the last pleat lies on the first facet. A dot of "
        "glue, "
        "a clip or a thread through the tip keeps it."}},
      {"blintz-tray",
       {"Fold the four corners to the middle.", "Raise two walls that lie across from each other.",
        "Raise the third wall: its gussets fold in behind it, and its corner goes over the rim and lies on the floor.",
        "Raise the fourth wall the same way; its corner goes over the rim and lies on the floor too.",
        "Press the corners down on the floor: they hold all four walls."}},
      {"tray",
       {"Fold the hem in along all edges, if there is one.",
        "Raise the four walls together. At each corner pinch the square on its diagonal and lay the gusset along the "
        "inside of an end wall; glue it there, or hold it with a clip."}},
      {"box-lid",
       {"Fold the hem in along all edges, if there is one.",
        "Raise the four walls together. At each corner pinch the square on its diagonal and lay the gusset along the "
        "inside of an end wall; glue it there, or hold it with a clip."}},
      {"carton",
       {"Wind the panels round to a tube, the narrow side left over inside the first panel, and glue it or hold it.",
        "Close the end: fold its panels in one after another in the order in which they go round, each over the one "
        "before, and tuck the last under the first so that it holds."}},
      {"four-part-box",
       {"Fold the hem in behind the wall.", "Raise the flap of the floor and turn the tab round the corner; fold the "
                                            "paper between them in two and lay it under "
                                            "the flap. When all four parts are ready, slide each tab between the next "
                                            "wall and its hem, and close the flaps of "
                                            "the floor each over the next, the last under the first."}},
      {"pouch",
       {"Hold the floor flat on the table and raise all sides at once.",
        "Turn the rim against the floor: the pleats lie down one over the next, all the same way round, until the "
        "mouth "
        "closes. It opens when it is turned back."}},
      {"card-sleeve",
       {"Fold both hems in.", "Fold the pocket up over the hems, so that its ends lie over them.",
        "Fold the whole in half, pockets inside."}},
      {"twisted-star",
       {"Pinch the pleats round the middle up, all of them, and turn the middle until they lie down all one way round; "
        "press "
        "it.",
        "Fold the tips of the arms behind."}},
      {"petal-bowl",
       {"Hold the floor flat on the table and raise the walls all round to their slope.",
        "At each corner fold the spare paper in half and lay it outside along the wall, all the same way round; glue "
        "it, or "
        "tuck it under the next."}},
      {"net",
       {"Fold all edges back, then the tabs, and open them half.",
        "Close the solid face by face from the one in the middle: glue each tab behind the face it meets and hold it "
        "until it "
        "sticks. The last face goes in with its tabs tucked."}},
      {"prism",
       {"Fold all edges back, then the tabs, and open them half.",
        "Wind the sides round and glue the long tab first; then close both ends, each tab behind the face it meets. "
        "The last "
        "face goes in with its tabs tucked."}},
      {"dipyramid",
       {"Fold all edges back, then the tabs, and open them half.",
        "Close one point, glueing each tab behind the face it meets, then the other. The last face goes in with its "
        "tabs "
        "tucked."}},
  };
  return all;
}

} // namespace

bool speaks_of_glue(std::string_view sentence) { return sentence.find("glue") != std::string_view::npos; }

const std::vector<std::string>& hand_words(std::string_view family) {
  static const Sentences none;
  const auto it = all_words().find(family);
  return it == all_words().end() ? none : it->second;
}

} // namespace uc
