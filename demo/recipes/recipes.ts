/** Four short recipes: what is done in each step, the picture that goes with it, and what is asked about it later. */
export type Recipe = {
  id: string;
  name: string;
  steps: [picture: Picture, text: string][];
  /** A question, the right answer, and two that are not. */
  questions: [question: string, right: string, wrong: string, wrong: string][];
};
export const pictures = ["knife", "pot", "spoon", "oven", "bowl"] as const;
export type Picture = (typeof pictures)[number];

export const recipes: Recipe[] = [
  {
    id: "soup",
    name: "Leek soup",
    steps: [
      ["knife", "Cut three leeks into rings and rinse them twice."],
      ["pot", "Let them soften in butter for eight minutes, with the lid on."],
      ["pot", "Add a litre of stock and two potatoes in cubes."],
      ["spoon", "Simmer for twenty minutes and stir now and then."],
      ["bowl", "Serve with a spoonful of sour cream and nutmeg."],
    ],
    questions: [
      ["How many leeks go into the soup?", "three", "two", "four"],
      ["How often are the leeks rinsed?", "twice", "once", "three times"],
      ["In what do the leeks soften?", "in butter", "in oil", "in stock"],
      ["For how long do the leeks soften?", "eight minutes", "five minutes", "twelve minutes"],
      ["How much stock is added?", "a litre", "half a litre", "two litres"],
      ["Which spice goes on top of the soup?", "nutmeg", "pepper", "paprika"],
    ],
  },
  {
    id: "cake",
    name: "Plum cake",
    steps: [
      ["bowl", "Stir 150 grams of butter with 120 grams of sugar until it is pale."],
      ["bowl", "Beat in three eggs, one after the other."],
      ["spoon", "Fold in 200 grams of flour and a pinch of salt."],
      ["knife", "Halve a pound of plums and lay them on the dough, cut side up."],
      ["oven", "Bake for forty minutes at 180 degrees."],
    ],
    questions: [
      ["How much butter does the cake take?", "150 grams", "120 grams", "200 grams"],
      ["How many eggs does the cake take?", "three", "two", "four"],
      ["How are the eggs added?", "one after the other", "all at once", "the whites last"],
      ["How do the plums lie on the dough?", "cut side up", "cut side down", "whole"],
      ["For how long is the cake baked?", "forty minutes", "thirty minutes", "fifty minutes"],
      ["At what heat is the cake baked?", "180 degrees", "160 degrees", "200 degrees"],
    ],
  },
  {
    id: "fritters",
    name: "Pea fritters",
    steps: [
      ["pot", "Boil 300 grams of peas for four minutes."],
      ["spoon", "Mash half of them with a fork."],
      ["bowl", "Mix in two eggs, four spoons of flour and some mint."],
      ["pot", "Fry small heaps for three minutes a side."],
      ["bowl", "Let them drain on paper and add lemon."],
    ],
    questions: [
      ["For how long are the peas boiled?", "four minutes", "two minutes", "six minutes"],
      ["How many of the peas are mashed?", "half of them", "all of them", "a third of them"],
      ["Which herb goes into the fritters?", "mint", "dill", "parsley"],
      ["How much flour goes into the fritters?", "four spoons", "two spoons", "six spoons"],
      ["For how long is each side fried?", "three minutes", "two minutes", "five minutes"],
      ["What is added to the fritters at the end?", "lemon", "yoghurt", "salt"],
    ],
  },
  {
    id: "salad",
    name: "Barley salad",
    steps: [
      ["pot", "Cook 200 grams of barley for twenty-five minutes."],
      ["spoon", "Rinse it cold and loosen the grains."],
      ["knife", "Dice a cucumber and six radishes."],
      ["bowl", "Stir a dressing of mustard, honey and vinegar."],
      ["bowl", "Mix everything and let it rest for an hour."],
    ],
    questions: [
      ["How much barley is cooked?", "200 grams", "150 grams", "250 grams"],
      ["For how long is the barley cooked?", "twenty-five minutes", "fifteen minutes", "forty minutes"],
      ["What happens to the barley after it is cooked?", "it is rinsed cold", "it is left in the pot", "it is toasted"],
      ["How many radishes go into the salad?", "six", "four", "ten"],
      ["What sweetens the dressing?", "honey", "sugar", "apple"],
      ["For how long does the salad rest?", "an hour", "half an hour", "overnight"],
    ],
  },
];
