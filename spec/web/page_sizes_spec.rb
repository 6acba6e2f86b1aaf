# frozen_string_literal: true

require "zlib"

# How much script comes before a page can be read: all that its part and the frame around it need, compressed.
RSpec.describe "The size of pages" do
  let(:dist) { File.expand_path("../../ui/dist", __dir__) }
  let(:manifest) { JSON.parse(File.read(File.join(dist, ".vite/manifest.json"))) }

  # @param names [Array<String>] sources that are loaded
  # @return [Integer] bytes
  def scripts_of(*names)
    files = names.flat_map { |name| with_imports(name) }.uniq.map { |name| manifest.fetch(name)["file"] }
    files.sum { |file| Zlib.gzip(File.read(File.join(dist, file))).bytesize }
  end

  def with_imports(name, seen = [])
    return seen if seen.include?(name)

    manifest.fetch(name).fetch("imports", []).inject(seen + [name]) { |all, other| with_imports(other, all) }
  end

  it "is at most 90 kB for the worklist" do
    expect(scripts_of("index.html", "src/parts/HouseHead.vue", "src/pages/WorklistPage.vue")).to be <= 90_000
  end

  it "is at most 50 kB for a public form and the sign-in" do
    expect(scripts_of("index.html", "src/pages/SignInPage.vue")).to be <= 50_000
    expect(scripts_of("src/form/form.ts")).to be <= 50_000
  end

  it "leaves each page's own part until it is opened" do
    pages = manifest.keys.grep(%r{\Asrc/pages/})
    expect(pages.size).to be >= 14
    expect(with_imports("index.html") & pages).to eq([])
  end
end
