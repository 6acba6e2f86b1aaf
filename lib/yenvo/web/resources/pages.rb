# frozen_string_literal: true

module Yenvo
  module Web
    # The built front end. Every address that is no file is a page of the one application.
    class Pages
      YEAR = "public, max-age=31536000, immutable"

      # @param folder [String]
      def initialize(folder)
        @files = Rack::Files.new(folder)
      end

      def call(env)
        return Nowhere.call(env) unless %w[GET HEAD].include?(env["REQUEST_METHOD"])

        path = env["PATH_INFO"]
        status, headers, body = @files.call(env)
        if status < 400 && path != "/"
          return status, headers.merge("cache-control" => path.start_with?("/assets/") ? YEAR : "no-cache"), body
        end
        return [status, headers, body] if path.start_with?("/assets/")

        status, headers, body = @files.call(env.merge("PATH_INFO" => "/index.html"))
        [status, headers.merge("cache-control" => "no-cache"), body]
      end
    end
  end
end
