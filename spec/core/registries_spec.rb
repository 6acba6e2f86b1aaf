# frozen_string_literal: true

# What every entry of a registry needs beyond its own file, so that whoever adds one is told what is missing.
RSpec.describe "The registries" do
  it "give the editor their names: ui/src/rule/names.ts is what bin/yenvo schema names prints" do
    expect(File.read("ui/src/rule/names.ts")).to eq(Yenvo::Core::Vocabulary.type_script),
      "The names in ui/src/rule/names.ts are old. Run bin/yenvo schema names >ui/src/rule/names.ts; the type check " \
      "then says which form is missing in ui/src/rule/actionForms.ts."
  end

  Yenvo::Core::Actions.all.each do |name, type|
    describe "the action #{name}" do
      it "has words to choose by" do
        expect(type.words.to_s).not_to be_empty, "The action #{name} has no words: define self.words in its class."
      end

      it "has a form on the sheet" do
        forms = File.read("ui/src/rule/actionForms.ts")
        expect(forms).to match(/^  #{name}: \{/),
          "The action #{name} has no form: add it to ui/src/rule/actionForms.ts."
      end

      it "stands in the description of rule files" do
        told = File.read("docs/rule-format.md")
        expect(told).to include("`#{name}`"), "The action #{name} is not described in docs/rule-format.md."
      end
    end
  end
end
