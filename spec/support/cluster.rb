# frozen_string_literal: true

require "fileutils"
require "open3"
require "securerandom"

# A cluster of two MariaDB nodes (Galera, which comes with the server's package), each with a folder of its own.
class Cluster
  PROVIDER = "/usr/lib/galera/libgalera_smm.so"
  Node = Struct.new(:dir, :port, :group_port, :url)

  # @param dir [String] holds nothing that is wanted
  def initialize(dir)
    @dir = dir
    FileUtils.rm_rf(dir)
    ports = Array.new(7) { TCPServer.open("127.0.0.1", 0) }
    @free = ports.map { |server| server.addr[1] }
    ports.each(&:close)
    @password = SecureRandom.hex(12)
    @nodes = Array.new(2) { |i| Node.new(File.join(dir, "node-#{i}"), @free.shift, @free.shift) }
    @nodes.each { |node| node.url = start(node) }
  end

  # @return [Array<String>] address of a database of that name on each node
  def urls(name) = @nodes.map { |node| "#{node.url}/#{name}" }

  # Ends a node as a power cut would.
  def kill(index) = run("kill", @nodes[index].dir)

  def stop
    @nodes.reverse_each { |node| run("kill", node.dir) }
    FileUtils.rm_rf(@dir)
  end

  private

  def start(node) =
    run(
      "start", node.dir, "YENVO_DATABASE_PASSWORD" => @password, "YENVO_DATABASE_OPTIONS" => options(node).join(" "),
      "YENVO_DATABASE_PORT" => node.port.to_s
    )

  def options(node)
    others = (@nodes - [node]).select(&:url).map { |other| "127.0.0.1:#{other.group_port}" }
    group =
      "gmcast.listen_addr=tcp://127.0.0.1:#{node.group_port};ist.recv_addr=127.0.0.1:#{@free.shift};gcache.size=64M"
    %W[
      --wsrep-on=ON
      --wsrep-provider=#{PROVIDER}
      --wsrep-cluster-address=gcomm://#{others.join(",")}
      --wsrep-provider-options=#{group}
      --wsrep-node-address=127.0.0.1
      --wsrep-node-incoming-address=127.0.0.1:#{node.port}
      --wsrep-sst-method=mysqldump
      --wsrep-sst-auth=yenvo:#{@password}
      --wsrep-sst-receive-address=127.0.0.1:#{node.port}
      --binlog-format=ROW
      --innodb-autoinc-lock-mode=2
      --innodb-flush-log-at-trx-commit=0
    ]
  end

  def run(what, dir, env = {})
    said, status = Open3.capture2(env, File.expand_path("../../bin/database", __dir__), what, dir)
    status.success? ? said.strip : raise("The cluster does not #{what}; the reason stands in #{dir}/server.log")
  end
end
