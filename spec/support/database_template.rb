# frozen_string_literal: true

require "digest"
require "fileutils"
require "open3"
require "uri"

# Databases as the migrations leave them, and with the bare boatyard in them. Each is made once for all that it is made
# from, and kept as SQL in tmp/; the others are copies. Lanes that want the same wait for the one that makes it.
class DatabaseTemplate
  FOLDER = File.expand_path("../../tmp/templates", __dir__)
  PROJECT = File.expand_path("../..", __dir__)
  # What a copy hangs on, by name of the template.
  MADE_FROM = {
    "migrated" => %w[db/migrations/*.rb spec/support/database_template.rb],
    "bare" => %w[
      db/migrations/*.rb
      demo/**/*
      lib/yenvo/{core,store}/**/*.rb
      spec/support/{database,database_template}.rb
    ]
  }.freeze

  class << self
    # Fills an empty database.
    # @param url [String] mysql2://... with the name of the database
    # @param name [String] of the template
    # @yield [url] makes it, in an empty database, when there is none
    def copy(url, name, &make)
      FileUtils.mkdir_p(FOLDER)
      path = File.join(FOLDER, "#{name}-#{digest(name)}.sql")
      File.open(File.join(FOLDER, "#{name}.lock"), File::CREAT) do |lock|
        lock.flock(File::LOCK_EX)
        return make_and_keep(url, path, name, &make) unless File.exist?(path)
      end
      client("mariadb", url, stdin: path)
    end

    private

    def digest(name)
      @digests ||= {}
      @digests[name] ||= begin
        paths = Dir[*MADE_FROM.fetch(name).map { |pattern| File.join(PROJECT, pattern) }].select { |at| File.file?(at) }
        Digest::SHA256.hexdigest(paths.sort.map { |at| "#{at.delete_prefix(PROJECT)}\0#{File.binread(at)}" }.join("\0"))
      end[0, 16]
    end

    def make_and_keep(url, path, name)
      yield url
      client("mariadb-dump", url, "--skip-comments", "--single-transaction", "--hex-blob", stdout: "#{path}.new")
      Dir[File.join(FOLDER, "#{name}-*.sql")].each { |old| File.delete(old) }
      File.rename("#{path}.new", path)
    end

    def client(command, url, *options, stdin: File::NULL, stdout: File::NULL)
      at = URI(url.sub(/\Amysql2/, "mysql"))
      words = [command, "--no-defaults", "--host=#{at.host}", "--port=#{at.port}", "--user=#{at.user}", *options]
      said, out = IO.pipe
      pid = spawn({"MYSQL_PWD" => at.password}, *words, at.path.delete_prefix("/"), in: stdin, out: stdout, err: out)
      out.close
      Process.wait(pid)
      $?.success? || raise("#{command} failed: #{said.read}")
    end
  end
end
