# frozen_string_literal: true

require "json"

module Yenvo
  module Web
    # By what names the built front end gives out the script and the styles of a page that is written here. Vite lists
    # them in its manifest.
    module Assets
      FOLDER = File.expand_path("../../../../ui/dist", __dir__)

      module_function

      # @param entry [String] path in the front end, such as "src/form/form.ts"
      # @return [Hash{Symbol => Array<String>}] styles and scripts; none while it is not built
      def of(entry)
        found = manifest[entry] or return {styles: [], scripts: []}

        files = {styles: found.fetch("css", []), scripts: [found["file"]]}
        files.transform_values { |all| all.map { |one| "/#{one}" } }
      end

      def manifest
        @manifest ||= JSON.parse(File.read(File.join(FOLDER, ".vite/manifest.json")))
      rescue Errno::ENOENT
        {}
      end
    end
  end
end
