# frozen_string_literal: true

class Layout
  # The files of the ui, each with those that it imports.
  class UiCode
    SOURCE = "ui/src"
    IMPORT = /(?:\bfrom|\bimport)\s*\(?\s*['"]([^'"]+)['"]/
    ENDINGS = ["", ".ts", ".vue", "/index.ts"].freeze

    # @param folder [String] of the project
    def initialize(folder)
      @folder = folder
    end

    # @return [Hash] arrows between files, as Circles takes them; tests are left out
    def files
      @files ||= paths.to_h do |path|
        used = Hash.new { |all, to| all[to] = [] }
        File.readlines(path).each_with_index do |line, index|
          line.scan(IMPORT) do |(named)|
            to = found(named, path)
            used[to] << "#{SOURCE}/#{short(path)}:#{index + 1}" if to && to != short(path)
          end
        end
        [short(path), used]
      end
    end

    # @return [Hash] arrows between folders; a file beside them is one of its own
    def folders = Layout.folded(files) { |path| path.split("/").first }

    private

    def source = File.join(@folder, SOURCE)
    def short(path) = path.delete_prefix("#{source}/")
    def paths = Dir[File.join(source, "**/*.{ts,vue}")].reject { |path| path.match?(/\.(test|d)\.ts\z/) }.sort

    def found(named, path)
      base = if named.start_with?("@/") then File.join(source, named.delete_prefix("@/"))
      elsif named.start_with?(".") then File.expand_path(named, File.dirname(path))
      end
      base && ENDINGS.map { |ending| base + ending }.find { |one| File.file?(one) }&.then { |one| short(one) }
    end
  end
end
